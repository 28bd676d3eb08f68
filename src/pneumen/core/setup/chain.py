"""A chain as a person owns it, before it is set up: microphone or plug, interface or none, what its control tells."""

from dataclasses import dataclass, replace
from typing import Final

from pneumen.core.errors import Contradiction, UnknownName
from pneumen.core.gear import GAIN_MARKINGS, Interface, Knob, Microphone, Preamp, Taper, UsbMicrophone
from pneumen.core.levels import band_of_sum_db, db_to_ratio
from pneumen.core.setup.setup import AS_USUAL, Before, DiBox, PluggedSetup, PlugLevels, SourceLevels, UsbSetup, XlrSetup

BOOSTED_OUTPUT_OHM: Final = 150.0
"""What an inline booster shows the preamp (common practice, no source)."""


def padded(preamp: Preamp, pad_db: float) -> Preamp:
    """Return a preamp with one more pad before its input."""
    return replace(preamp, pad_db=preamp.pad_db + pad_db) if pad_db else preamp


@dataclass(frozen=True, slots=True, kw_only=True)
class InTheAir:
    """What reaches a microphone: the source, how far off and beside its axis, and the noise of the room (diffuse).

    low_cut_hz is the low-cut it goes through (0: none), extent_m half the width of the source;
    direct_to_reverberant_db and rt60_s are what the room adds to its sound, None where that is left out.
    """

    source: SourceLevels
    room_noise_dba: float
    distance_m: float
    off_axis_deg: float = 0.0
    low_cut_hz: float = 0.0
    extent_m: float = 0.0
    direct_to_reverberant_db: float | None = None
    rt60_s: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class XlrChain:
    """A microphone with an XLR plug behind an interface, perhaps with an inline booster between them.

    band_db is how far each may lie from its sheet; booster_db what a booster adds, pad_db what a pad before the input
    takes, 0 without one.
    """

    microphone: Microphone
    microphone_band_db: float
    interface: Interface
    interface_band_db: float = 0.0
    booster_db: float = 0.0
    pad_db: float = 0.0
    taper: Taper | None = None

    @property
    def pattern(self) -> str:
        return self.microphone.pattern

    @property
    def gain_marking(self) -> str:
        return self.interface.gain_marking

    @property
    def control(self) -> str:
        """What the gain is set with."""
        return "knob"

    @property
    def gain_range_db(self) -> tuple[float, float]:
        """Lowest and highest gain the control reaches."""
        return self.interface.gain_min_db, self.interface.gain_max_db

    @property
    def gain_step_db(self) -> float:
        """The step of the control; 1 where it turns freely."""
        return self.interface.gain_step_db

    @property
    def knob(self) -> Knob:
        """The control, with its map where there is one."""
        return Knob(low_db=self.interface.gain_min_db, high_db=self.interface.gain_max_db, taper=self.taper)

    @property
    def sheet_band_db(self) -> float:
        """How far the chain's level may lie from its sheets, plus or minus."""
        return band_of_sum_db(self.microphone_band_db, self.interface_band_db)

    @property
    def boosted(self) -> Microphone:
        """The microphone with the booster folded in: more output, a low output impedance, its own noise still below."""
        if not self.booster_db:
            return self.microphone
        louder = self.microphone.sensitivity_mv_per_pa * db_to_ratio(self.booster_db)
        return replace(self.microphone, sensitivity_mv_per_pa=louder, impedance_ohm=BOOSTED_OUTPUT_OHM)

    def setup(self, air: InTheAir, gain_db: float) -> XlrSetup:
        """Return the chain set up; the gain is clamped to what the control reaches."""
        return XlrSetup(
            source=air.source,
            distance_m=air.distance_m,
            room_noise_dba=air.room_noise_dba,
            microphone=self.boosted,
            preamp=padded(self.interface.preamp_at(gain_db), self.pad_db),
            converter=self.interface.converter,
            off_axis_deg=air.off_axis_deg,
            low_cut_hz=air.low_cut_hz,
            extent_m=air.extent_m,
            direct_to_reverberant_db=air.direct_to_reverberant_db,
            rt60_s=air.rt60_s,
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class UsbChain:
    """A microphone with its converter built in: gain_marking "none" where distance is the gain.

    slider tells that its level is set by the computer's own input slider.
    """

    microphone: UsbMicrophone
    microphone_band_db: float
    gain_marking: str = "none"
    gain_max_db: float = 0.0
    slider: bool = False

    def __post_init__(self) -> None:
        if self.gain_marking not in GAIN_MARKINGS:
            raise UnknownName("gain_marking", self.gain_marking, GAIN_MARKINGS)

    @property
    def pattern(self) -> str:
        return self.microphone.pattern

    @property
    def control(self) -> str:
        """What the gain is set with."""
        return "slider" if self.slider else "knob"

    @property
    def gain_range_db(self) -> tuple[float, float]:
        return 0.0, 0.0 if self.gain_marking == "none" else self.gain_max_db

    @property
    def gain_step_db(self) -> float:
        return 1.0

    @property
    def taper(self) -> Taper | None:
        return None

    @property
    def knob(self) -> Knob:
        low_db, high_db = self.gain_range_db
        return Knob(low_db=low_db, high_db=high_db)

    @property
    def sheet_band_db(self) -> float:
        return self.microphone_band_db

    def setup(self, air: InTheAir, gain_db: float) -> UsbSetup:
        """Return the chain set up; the gain is clamped to what the control reaches."""
        low, high = self.gain_range_db
        return UsbSetup(
            source=air.source,
            distance_m=air.distance_m,
            room_noise_dba=air.room_noise_dba,
            microphone=replace(self.microphone, gain_db=min(max(gain_db, low), high)),
            off_axis_deg=air.off_axis_deg,
            low_cut_hz=air.low_cut_hz,
            extent_m=air.extent_m,
            direct_to_reverberant_db=air.direct_to_reverberant_db,
            rt60_s=air.rt60_s,
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class RecorderChain(UsbChain):
    """A handheld recorder with its own pair: the same levels, but no computer and a numbered dial."""

    @property
    def control(self) -> str:
        return "dial"


@dataclass(frozen=True, slots=True, kw_only=True)
class PluggedChain:
    """An interface an instrument is plugged into: straight (its instrument input's impedance), or through a box."""

    interface: Interface
    interface_band_db: float
    instrument_ohm: float
    box: DiBox | None = None
    before: Before = AS_USUAL
    pad_db: float = 0.0
    taper: Taper | None = None

    def __post_init__(self) -> None:
        if self.box is None and not self.instrument_ohm > 0:
            raise Contradiction("instrument_ohm", "must be told where there is no DI box")

    @property
    def gain_marking(self) -> str:
        return self.interface.gain_marking

    @property
    def control(self) -> str:
        return "knob"

    @property
    def gain_range_db(self) -> tuple[float, float]:
        return self.interface.gain_min_db, self.interface.gain_max_db

    @property
    def gain_step_db(self) -> float:
        return self.interface.gain_step_db

    @property
    def knob(self) -> Knob:
        return Knob(low_db=self.interface.gain_min_db, high_db=self.interface.gain_max_db, taper=self.taper)

    @property
    def sheet_band_db(self) -> float:
        return self.interface_band_db

    def plugged(self, *, source: PlugLevels, gain_db: float) -> PluggedSetup:
        """Return the chain set up: neither room nor distance reaches a plug."""
        preamp = padded(self.interface.preamp_at(gain_db), self.pad_db)
        if self.box is None:
            preamp = replace(preamp, input_impedance_ohm=self.instrument_ohm)
        converter = self.interface.converter
        return PluggedSetup(plug=source, preamp=preamp, converter=converter, box=self.box, before=self.before)


MikedChain = XlrChain | UsbChain
Chain = XlrChain | UsbChain | PluggedChain


def with_taper(chain: Chain, taper: Taper) -> Chain:
    """Return a chain whose knob is mapped: what it reaches is what was measured; without an interface, as it is."""
    if isinstance(chain, UsbChain):
        return chain
    reaches = replace(chain.interface, gain_max_db=chain.interface.gain_min_db + taper.range_db)
    return replace(chain, interface=reaches, taper=taper)
