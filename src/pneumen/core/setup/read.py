"""A setup as JSON, in the shape the command line promises, and back."""

from dataclasses import asdict, dataclass
from typing import Any

import msgspec

from pneumen.core.errors import BadDocument, Contradiction, OutOfRange
from pneumen.core.gear import Converter, Microphone, Preamp, UsbMicrophone
from pneumen.core.reader import decode_object, read_as, unknown_keys
from pneumen.core.setup.setup import (
    AS_USUAL,
    Before,
    DiBox,
    LineSetup,
    MikedSetup,
    PluggedSetup,
    PlugLevels,
    SourceLevels,
    UsbSetup,
    XlrSetup,
)


@dataclass(frozen=True, slots=True, kw_only=True)
class _Room:
    noise_dba: float
    direct_to_reverberant_db: float | None = None
    rt60_s: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class _Distance:
    distance_m: float
    off_axis_deg: float = 0.0
    low_cut_hz: float = 0.0
    extent_m: float = 0.0


BESIDE = ("off_axis_deg", "low_cut_hz", "extent_m")
ECHO = ("direct_to_reverberant_db", "rt60_s")
_PLUGGED_PIECES = {"plug": PlugLevels, "before": Before, "box": DiBox, "preamp": Preamp, "converter": Converter}
_PIECES = {"source": SourceLevels, "room": _Room, "preamp": Preamp, "converter": Converter}


def setup_from_json(document: bytes) -> tuple[LineSetup, tuple[str, ...]]:
    """Read a setup; also return the keys it does not know, which it leaves aside.

    One with a "plug" instead of a source is an instrument that is plugged in: then "box" may stand for a DI box, and
    distance, room and microphone are left out.

    Raises:
        BadDocument: naming what is missing, mistyped or impossible, and what would be right.
    """
    return setup_from_object(decode_object(document))


def setup_from_object(value: dict[str, Any], place: str = "") -> tuple[LineSetup, tuple[str, ...]]:
    """Read a setup from decoded JSON; place is told before every field that is at fault."""
    prefix = f"{place}." if place else ""
    if "plug" in value:
        pieces, ignored = _pieces(value, _PLUGGED_PIECES, ("plug", "preamp", "converter"), prefix)
        return PluggedSetup(**pieces), tuple(ignored)
    usb = isinstance(value.get("microphone"), dict) and "full_scale_db_spl" in value["microphone"]
    shapes = {**_PIECES, "microphone": UsbMicrophone if usb else Microphone}
    wanted = ("source", "room", "microphone") if usb else ("source", "room", "microphone", "preamp", "converter")
    where = _Distance.__slots__
    distance = read_as(_Distance, {key: value[key] for key in value if key in where}, place)
    pieces, ignored = _pieces({key: value[key] for key in value if key not in where}, shapes, wanted, prefix)
    room = pieces.pop("room")
    try:
        setup = _miked(usb, dict(asdict(distance), room_noise_dba=room.noise_dba, **_echo_of(room), **pieces))
    except (OutOfRange, Contradiction) as error:
        at = f"{prefix}room." if getattr(error, "field", "") in _Room.__slots__ else prefix
        raise BadDocument(f"{at}{error}") from None
    return setup, tuple(ignored)


def _echo_of(room: _Room | MikedSetup) -> dict[str, float | None]:
    return {name: getattr(room, name) for name in ECHO}


def _miked(usb: bool, pieces: dict[str, Any]) -> MikedSetup:
    if usb and ("preamp" in pieces or "converter" in pieces):
        raise Contradiction("preamp", "and converter must be left out behind a USB microphone")
    return UsbSetup(**pieces) if usb else XlrSetup(**pieces)


def _pieces(
    value: dict[str, Any], shapes: dict[str, type], wanted: tuple[str, ...], prefix: str
) -> tuple[dict[str, Any], list[str]]:
    """Read the pieces of a setup; also return the keys no shape knows."""
    pieces: dict[str, Any] = {}
    ignored = [f"{prefix}{key}" for key in value if key not in shapes]
    for name, shape in shapes.items():
        if name in value:
            pieces[name] = read_as(shape, value[name], prefix + name)
            ignored += unknown_keys(value[name], shape, prefix + name)
        elif name in wanted:
            raise BadDocument(f"{prefix}{name} is missing")
    return pieces, ignored


def setup_to_object(setup: LineSetup) -> dict[str, Any]:
    """Return a setup in the shape setup_from_object reads."""
    if isinstance(setup, PluggedSetup):
        plugged = {"plug": asdict(setup.plug), "preamp": asdict(setup.preamp), "converter": asdict(setup.converter)}
        plugged |= {"before": asdict(setup.before)} if setup.before != AS_USUAL else {}
        return plugged | ({"box": asdict(setup.box)} if setup.box else {})
    value: dict[str, Any] = {
        "source": asdict(setup.source),
        "distance_m": setup.distance_m,
        "room": {"noise_dba": setup.room_noise_dba}
        | {n: told for n, told in _echo_of(setup).items() if told is not None},
        "microphone": asdict(setup.microphone),
    }
    value |= {name: told for name in BESIDE if (told := getattr(setup, name))}
    if isinstance(setup, XlrSetup):
        value |= {"preamp": asdict(setup.preamp), "converter": asdict(setup.converter)}
    return value


def setup_to_json(setup: LineSetup) -> bytes:
    """Write a setup as JSON that setup_from_json reads back to an equal setup."""
    return msgspec.json.encode(setup_to_object(setup))
