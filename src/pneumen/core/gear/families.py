"""What is assumed of gear known by its family alone, and how far off that may be."""

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Final, TypeVar

from pneumen.core.errors import UnknownName
from pneumen.core.gear.sheets import Interface, Microphone, UsbMicrophone

SHEET_BAND_DB: Final = 2.0
"""What a printed sensitivity may be off (IEC 60268-4 leaves makers about this much; from memory)."""

INTERFACE_SHEET_BAND_DB: Final = 1.0
"""What a printed maximum input and gain may be off (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class MicrophoneFamily:
    """Typical figures of a family. band_db: how far the level of one taken at random may lie from them."""

    label: str
    plug: str
    needs_phantom: bool
    hurt_by_phantom: bool
    pattern: str
    self_noise_dba: float
    band_db: float
    sensitivity_mv_per_pa: float | None = None
    max_spl_db: float | None = None
    impedance_ohm: float | None = None
    full_scale_db_spl: float | None = None


RECORDER_FAMILY: Final = MicrophoneFamily(
    label="Handheld recorder",
    plug="none",
    needs_phantom=False,
    hurt_by_phantom=False,
    pattern="cardioid",
    self_noise_dba=20,
    band_db=4,
    full_scale_db_spl=122,
)
"""A handheld recorder's own pair of microphones: nothing to plug at all (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class InterfaceFamily:
    """Typical figures of an interface, by how its gain control is marked."""

    label: str
    gain_marking: str
    gain_min_db: float
    gain_max_db: float
    ein_dbu: float
    max_input_dbu: float
    input_impedance_ohm: float
    dynamic_range_db: float
    inputs: int
    band_db: float


# Figures are the middle of what common data sheets print (common practice, no source); a dynamic's and a
# ribbon's self-noise follow from the thermal noise of their coil or ribbon (physics: 4kTR).
MICROPHONE_FAMILIES: Final[Mapping[str, MicrophoneFamily]] = {
    "large-condenser": MicrophoneFamily(
        label="Large-diaphragm condenser",
        plug="xlr",
        needs_phantom=True,
        hurt_by_phantom=False,
        pattern="cardioid",
        sensitivity_mv_per_pa=18,
        self_noise_dba=10,
        max_spl_db=134,
        impedance_ohm=120,
        band_db=4,
    ),
    "small-condenser": MicrophoneFamily(
        label="Small-diaphragm condenser",
        plug="xlr",
        needs_phantom=True,
        hurt_by_phantom=False,
        pattern="cardioid",
        sensitivity_mv_per_pa=12,
        self_noise_dba=17,
        max_spl_db=134,
        impedance_ohm=150,
        band_db=4,
    ),
    "dynamic": MicrophoneFamily(
        label="Dynamic",
        plug="xlr",
        needs_phantom=False,
        hurt_by_phantom=False,
        pattern="cardioid",
        sensitivity_mv_per_pa=1.9,
        self_noise_dba=18,
        max_spl_db=150,
        impedance_ohm=300,
        band_db=3,
    ),
    "ribbon": MicrophoneFamily(
        label="Ribbon, passive",
        plug="xlr",
        needs_phantom=False,
        hurt_by_phantom=True,
        pattern="figure-8",
        sensitivity_mv_per_pa=1.2,
        self_noise_dba=21,
        max_spl_db=135,
        impedance_ohm=270,
        band_db=4,
    ),
    "active-ribbon": MicrophoneFamily(
        label="Ribbon, active",
        plug="xlr",
        needs_phantom=True,
        hurt_by_phantom=False,
        pattern="figure-8",
        sensitivity_mv_per_pa=12,
        self_noise_dba=18,
        max_spl_db=130,
        impedance_ohm=200,
        band_db=4,
    ),
    "usb-condenser": MicrophoneFamily(
        label="USB condenser",
        plug="usb",
        needs_phantom=False,
        hurt_by_phantom=False,
        pattern="cardioid",
        full_scale_db_spl=118,
        self_noise_dba=18,
        band_db=5,
    ),
    "usb-dynamic": MicrophoneFamily(
        label="USB dynamic",
        plug="usb",
        needs_phantom=False,
        hurt_by_phantom=False,
        pattern="cardioid",
        full_scale_db_spl=124,
        self_noise_dba=24,
        band_db=5,
    ),
}

INTERFACE_FAMILIES: Final[Mapping[str, InterfaceFamily]] = {
    "numbered": InterfaceFamily(
        label="Interface, gain marked in dB",
        gain_marking="db",
        gain_min_db=0,
        gain_max_db=56,
        ein_dbu=-127,
        max_input_dbu=9,
        input_impedance_ohm=3000,
        dynamic_range_db=108,
        inputs=2,
        band_db=3,
    ),
    "bare-knob": InterfaceFamily(
        label="Interface, bare gain knob",
        gain_marking="bare",
        gain_min_db=0,
        gain_max_db=52,
        ein_dbu=-126,
        max_input_dbu=8,
        input_impedance_ohm=3000,
        dynamic_range_db=104,
        inputs=2,
        band_db=4,
    ),
}


Family = TypeVar("Family", MicrophoneFamily, InterfaceFamily)


RECORDER: Final = "recorder"
OWN_FAMILIES: Final[Mapping[str, MicrophoneFamily]] = MappingProxyType(
    {**MICROPHONE_FAMILIES, RECORDER: RECORDER_FAMILY}
)
"""What one can say one owns to record with, by family alone."""


def microphone_from_sheet(
    family: str, typed: Mapping[str, float | str]
) -> tuple[Microphone | UsbMicrophone, tuple[str, ...], float]:
    """Return a microphone from what was typed, the names of what had to be assumed, and its level's band in dB.

    Args:
        family: a key of OWN_FAMILIES; a recorder's own pair is described as a USB microphone is.
        typed: field names of Microphone or UsbMicrophone with their values; whatever is left out is assumed.

    Raises:
        UnknownName: if there is no such family.
        OutOfRange: if a typed value cannot be.

    >>> microphone_from_sheet("dynamic", {"sensitivity_mv_per_pa": 2.5})[1]
    ('self_noise_dba', 'max_spl_db', 'impedance_ohm', 'pattern')
    """
    known = _family(family, OWN_FAMILIES)
    usb = known.plug != "xlr"
    names: tuple[str, ...] = ("full_scale_db_spl", "self_noise_dba", "pattern")
    if not usb:
        names = ("sensitivity_mv_per_pa", "self_noise_dba", "max_spl_db", "impedance_ohm", "pattern")
    assumed = tuple(name for name in names if name not in typed)
    values = {name: typed.get(name, getattr(known, name)) for name in names}
    band_db = known.band_db if names[0] in assumed else SHEET_BAND_DB
    if usb:
        return UsbMicrophone(**values), assumed, band_db
    return Microphone(pad_db=float(typed.get("pad_db", 0.0)), **values), assumed, band_db


def interface_from_sheet(family: str, typed: Mapping[str, float | str]) -> tuple[Interface, tuple[str, ...], float]:
    """Return an interface from what was typed, the names of what had to be assumed, and its level's band in dB.

    Raises:
        UnknownName: if there is no such family.
        OutOfRange: if a typed value cannot be.
        Contradiction: if the gain range is upside down.
    """
    known = _family(family, INTERFACE_FAMILIES)
    names = ("gain_min_db", "gain_max_db", "ein_dbu", "max_input_dbu", "input_impedance_ohm", "dynamic_range_db")
    assumed = tuple(name for name in names if name not in typed)
    values = {name: typed.get(name, getattr(known, name)) for name in names}
    settles_level = {"gain_min_db", "max_input_dbu"}
    band_db = known.band_db if settles_level & set(assumed) else INTERFACE_SHEET_BAND_DB
    inputs = int(typed.get("inputs", known.inputs))
    step_db = float(typed.get("gain_step_db", 1.0))
    interface = Interface(gain_marking=known.gain_marking, inputs=inputs, gain_step_db=step_db, **values)
    return interface, assumed, band_db


def _family(name: str, table: Mapping[str, Family]) -> Family:
    if name not in table:
        raise UnknownName("family", name, tuple(table))
    return table[name]
