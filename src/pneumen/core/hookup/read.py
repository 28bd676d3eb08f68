"""A chain as JSON, in the shape the command line promises."""

from dataclasses import dataclass
from typing import Any

from pneumen.core.errors import BadDocument, PneumenError
from pneumen.core.hookup.chain import Cable, Chain
from pneumen.core.hookup.device import Device
from pneumen.core.reader import decode_object, read_as, unknown_keys


@dataclass(frozen=True, slots=True, kw_only=True)
class _Cable:
    from_: str
    to: str
    connector: str
    balanced: bool | None = None
    length_m: float = 3.0


def chain_from_json(document: bytes) -> tuple[Chain, tuple[str, ...]]:
    """Read a chain; also return the keys it does not know, which it leaves aside.

    Raises:
        BadDocument: naming what is missing, mistyped or impossible, and what would be right.
    """
    value = decode_object(document)
    devices, ignored = _many(value, "devices", Device)
    cables, more = _cables(value)
    rest = [key for key in value if key not in ("devices", "cables")]
    try:
        return Chain(devices=tuple(devices), cables=cables), (*ignored, *more, *rest)
    except PneumenError as error:
        raise BadDocument(str(error)) from None


def _list_of(value: dict[str, Any], name: str) -> list[Any]:
    found = value.get(name)
    if found is None:
        raise BadDocument(f"{name} is missing")
    if not isinstance(found, list):
        raise BadDocument(f"{name} must be a list, written in [ ]")
    return found


def _many(value: dict[str, Any], name: str, shape: type[Device]) -> tuple[list[Device], tuple[str, ...]]:
    found: list[Device] = []
    ignored: list[str] = []
    for number, one in enumerate(_list_of(value, name)):
        place = f"{name}[{number}]"
        try:
            found.append(read_as(shape, one, place))
        except BadDocument:
            raise
        except PneumenError as error:
            raise BadDocument(f"{place}: {error}") from None
        ignored += unknown_keys(one, shape, place)
    if not found:
        raise BadDocument(f"{name} is empty: give at least one")
    return found, tuple(ignored)


def _cables(value: dict[str, Any]) -> tuple[tuple[Cable, ...], tuple[str, ...]]:
    found: list[Cable] = []
    ignored: list[str] = []
    for number, one in enumerate(_list_of(value, "cables") if "cables" in value else []):
        place = f"cables[{number}]"
        if not isinstance(one, dict):
            raise BadDocument(f"{place} must be an object, written in {{ }}")
        for key in ("from", "to"):
            if key not in one:
                raise BadDocument(f"{place}.{key} is missing")
        renamed = {("from_" if key == "from" else key): one[key] for key in one}
        told = read_as(_Cable, renamed, place)
        ignored += unknown_keys(renamed, _Cable, place)
        begin, end = _port(told.from_, f"{place}.from"), _port(told.to, f"{place}.to")
        if told.connector == "mains" and begin[1] == "mains":
            begin, end = end, begin  # power has one way: from the wall
        try:
            found.append(
                Cable(
                    from_device=begin[0],
                    from_port=begin[1],
                    to_device=end[0],
                    to_port=end[1],
                    connector=told.connector,
                    balanced=told.balanced,
                    length_m=told.length_m,
                )
            )
        except PneumenError as error:
            raise BadDocument(f"{place}: {error}") from None
    return tuple(found), tuple(ignored)


def _port(told: str, place: str) -> tuple[str, str]:
    device, point, port = told.partition(".")
    if not (device and point and port):
        raise BadDocument(f"{place} must be a device and its port, as in box.in1; was {told!r}")
    return device, port
