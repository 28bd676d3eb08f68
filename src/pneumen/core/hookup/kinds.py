"""The kinds of devices a chain is made of: their sockets, and what holds where nothing else is told."""

from dataclasses import dataclass
from types import MappingProxyType
from typing import Final

from pneumen.core.errors import UnknownName

MIC, INSTRUMENT, LINE, SPEAKER, HEADPHONE, DIGITAL, MAINS, ANY = (
    "mic",
    "instrument",
    "line",
    "speaker",
    "headphone",
    "digital",
    "mains",
    "any",
)
"""What a socket carries: three levels of small signals, two that drive something, data, the wall's own, and what passes
any small signal."""
SIGNALS: Final = (MIC, INSTRUMENT, LINE, ANY)
PHONO: Final = "phono"
CONNECTORS: Final = ("xlr", "ts", "trs", "ts-3.5", "trs-3.5", PHONO, "speaker", "usb", "mains")
BALANCED_PLUGS: Final = ("xlr", "trs")
"""What is balanced where a cable does not say otherwise."""
INPUT_MODES: Final = ("mic", "line", "instrument")
DI_BOXES: Final = ("passive-di", "active-di")
NUMBERED: Final = ("in", "out", "usb")


@dataclass(frozen=True, slots=True, kw_only=True)
class DeviceKind:
    """A kind: what each of its sockets carries, by name without number, and its stated defaults.

    begins is set where sound comes into the chain, records where it becomes a file. output_dbu is the highest peak it
    is expected to give (common practice, no source), gain_db what it does to what goes through.
    """

    sockets: MappingProxyType[str, str]
    begins: bool = False
    records: bool = False
    microphone: bool = False
    needs_phantom: bool = False
    hurt_by_phantom: bool = False
    feeds_phantom: bool = False
    passes_phantom: bool = False
    output_impedance_ohm: float | None = None
    input_impedance_ohm: float | None = None
    output_dbu: float | None = None
    max_input_dbu: float | None = None
    gain_db: float = 0.0
    power_w: float | None = None


def _kind(sockets: str, **facts: object) -> DeviceKind:
    """Write a kind's sockets as "name:what name:what"."""
    named = dict(one.split(":") for one in sockets.split())
    return DeviceKind(sockets=MappingProxyType(named), **facts)  # type: ignore[arg-type]


KINDS: Final[MappingProxyType[str, DeviceKind]] = MappingProxyType(
    {
        "condenser-microphone": _kind(
            "out:mic", begins=True, microphone=True, needs_phantom=True, output_impedance_ohm=150.0, output_dbu=-15.0
        ),
        "dynamic-microphone": _kind(
            "out:mic", begins=True, microphone=True, output_impedance_ohm=200.0, output_dbu=-30.0
        ),
        "ribbon-microphone": _kind(
            "out:mic", begins=True, microphone=True, hurt_by_phantom=True, output_impedance_ohm=300.0, output_dbu=-35.0
        ),
        "usb-microphone": _kind("usb:digital phones:headphone", begins=True, microphone=True, records=True),
        "passive-pickup": _kind("out:instrument", begins=True, output_impedance_ohm=10_000.0, output_dbu=-4.0),
        "active-pickup": _kind("out:instrument", begins=True, output_impedance_ohm=1_000.0, output_dbu=2.0),
        "keyboard": _kind("out:line mains:mains", begins=True, output_impedance_ohm=600.0, output_dbu=6.0),
        "passive-di": _kind(
            "in:instrument out:mic thru:instrument",
            input_impedance_ohm=140_000.0,
            output_impedance_ohm=150.0,
            gain_db=-22.0,
        ),
        "active-di": _kind(
            "in:instrument out:mic thru:instrument",
            needs_phantom=True,
            input_impedance_ohm=1_000_000.0,
            output_impedance_ohm=150.0,
            max_input_dbu=10.0,
        ),
        "inline-booster": _kind(
            "in:mic out:mic",
            needs_phantom=True,
            input_impedance_ohm=3_000.0,
            output_impedance_ohm=150.0,
            gain_db=24.0,
        ),
        "inline-pad": _kind(
            "in:any out:any",
            passes_phantom=True,
            input_impedance_ohm=2_000.0,
            output_impedance_ohm=150.0,
            gain_db=-20.0,
        ),
        "pedal": _kind("in:instrument out:instrument", input_impedance_ohm=1_000_000.0, output_impedance_ohm=1_000.0),
        "mixer": _kind("in:mic out:line mains:mains", feeds_phantom=True, output_impedance_ohm=150.0, output_dbu=4.0),
        "reamp-box": _kind("in:line out:instrument", input_impedance_ohm=10_000.0, output_impedance_ohm=10_000.0),
        "load-box": _kind("in:speaker out:line thru:speaker", output_impedance_ohm=600.0, output_dbu=0.0),
        "interface": _kind(
            "in:mic out:line phones:headphone usb:digital mains:mains", records=True, feeds_phantom=True
        ),
        "preamp": _kind("in:mic out:line mains:mains", feeds_phantom=True, output_impedance_ohm=150.0, output_dbu=18.0),
        "guitar-amp": _kind(
            "in:instrument speaker:speaker line:line mains:mains",
            input_impedance_ohm=1_000_000.0,
            output_impedance_ohm=600.0,
            output_dbu=4.0,
            power_w=30.0,
        ),
        "tube-amp": _kind(
            "in:instrument speaker:speaker line:line mains:mains",
            input_impedance_ohm=1_000_000.0,
            output_impedance_ohm=600.0,
            output_dbu=4.0,
            power_w=30.0,
        ),
        "recorder": _kind("in:mic phones:headphone usb:digital mains:mains", records=True, feeds_phantom=True),
        "headphones": _kind("in:headphone"),
        "active-monitor": _kind("in:line mains:mains", input_impedance_ohm=10_000.0, max_input_dbu=20.0),
        "passive-monitor": _kind("in:speaker"),
        "wireless-headset": _kind("usb:digital"),
        "computer": _kind("in:line phones:headphone out:headphone usb:digital mains:mains", records=True),
        "mains-outlet": _kind("out:mains"),
    }
)
"""Stated defaults; every figure is common practice without a source, and a device may carry its own."""
INPUT_OHM: Final = {"mic": 3_000.0, "line": 15_000.0, "instrument": 1_000_000.0}
MAX_INPUT_DBU: Final = {"mic": 9.0, "line": 20.0, "instrument": 12.0}
"""What an input of an interface, preamp or recorder is and takes at its lowest gain, by what it is set to."""


def kind_named(name: str) -> DeviceKind:
    """Return a kind.

    Raises:
        UnknownName: naming the kinds there are.
    """
    if name not in KINDS:
        raise UnknownName("kind", name, tuple(KINDS))
    return KINDS[name]


def socket_of_port(kind: DeviceKind, port: str) -> str | None:
    """Return the socket a port is one of, None where the kind has no such port.

    >>> socket_of_port(KINDS["interface"], "in2"), socket_of_port(KINDS["headphones"], "out")
    ('in', None)
    """
    name = port.rstrip("0123456789")
    if name not in kind.sockets or (name != port and name not in NUMBERED) or port[len(name) :].startswith("0"):
        return None
    return name
