"""A setup: how loud the source is, how far the microphone stands (or what is plugged), every device's settings."""

from dataclasses import dataclass, replace
from typing import Final

from pneumen.core.errors import Contradiction, require_positive, require_within
from pneumen.core.gear import Converter, Microphone, Preamp, UsbMicrophone

OCTAVES_HZ: Final = (63, 125, 250, 500, 1000, 2000, 4000, 8000)
"""Octave bands a source's spectrum is told in (ISO 266)."""
NEAREST_M: Final = 0.001
FARTHEST_M: Final = 100.0
"""Nearer or farther nobody records, and a point source means nothing."""


@dataclass(frozen=True, slots=True, kw_only=True)
class SourceLevels:
    """How loud a source is at a distance. peak_db_spl is the level of a sine with that peak; the others are RMS.

    octaves_db is its relative spectrum there through an omni, by OCTAVES_HZ: with it closeness counts in its level.
    """

    peak_db_spl: float
    typical_db_spl: float
    quiet_db_spl: float
    at_m: float
    octaves_db: tuple[float, ...] | None = None

    def __post_init__(self) -> None:
        if self.octaves_db is not None:
            if len(self.octaves_db) != len(OCTAVES_HZ):
                raise Contradiction("octaves_db", f"must hold {len(OCTAVES_HZ)} levels, 63 Hz to 8 kHz")
            for level_db in self.octaves_db:
                require_within("octaves_db", level_db, -200, 200)
        require_positive("at_m", self.at_m, 100)
        for name in ("peak_db_spl", "typical_db_spl", "quiet_db_spl"):
            require_within(name, getattr(self, name), -50, 200)
        if not self.quiet_db_spl <= self.typical_db_spl <= self.peak_db_spl:
            raise Contradiction("typical_db_spl", "must lie between quiet_db_spl and peak_db_spl")

    def shifted(self, *, peak_db: float, typical_db: float, quiet_db: float) -> "SourceLevels":
        """Return the same source, each level louder by so much; the order of the three is kept."""
        typical = self.typical_db_spl + typical_db
        return replace(
            self,
            peak_db_spl=max(self.peak_db_spl + peak_db, typical),
            typical_db_spl=typical,
            quiet_db_spl=min(self.quiet_db_spl + quiet_db, typical),
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class PlugLevels:
    """An instrument's plug, unloaded: RMS levels, the level of a sine with its peak, its own noise (A)."""

    peak_dbu: float
    typical_dbu: float
    quiet_dbu: float
    output_ohm: float
    noise_dbu: float

    def __post_init__(self) -> None:
        require_positive("output_ohm", self.output_ohm, 1e7)
        require_within("noise_dbu", self.noise_dbu, -160, 20)
        for name in ("peak_dbu", "typical_dbu", "quiet_dbu"):
            require_within(name, getattr(self, name), -120, 60)
        if not self.quiet_dbu <= self.typical_dbu <= self.peak_dbu:
            raise Contradiction("typical_dbu", "must lie between quiet_dbu and peak_dbu")

    def shifted(self, *, peak_db: float, typical_db: float, quiet_db: float) -> "PlugLevels":
        """Return the same plug, each level louder by so much; the order of the three is kept."""
        typical = self.typical_dbu + typical_db
        return replace(
            self,
            peak_dbu=max(self.peak_dbu + peak_db, typical),
            typical_dbu=typical,
            quiet_dbu=min(self.quiet_dbu + quiet_db, typical),
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class DiBox:
    """A DI box: gain_db (below 0 where it takes), the load it is, and its noise (A) and ceiling at its output."""

    gain_db: float
    input_impedance_ohm: float
    output_ohm: float
    noise_dbu: float
    max_output_dbu: float

    def __post_init__(self) -> None:
        require_within("gain_db", self.gain_db, -60, 60)
        require_positive("input_impedance_ohm", self.input_impedance_ohm, 1e9)
        require_positive("output_ohm", self.output_ohm, 1e7)
        require_within("noise_dbu", self.noise_dbu, -160, 20)
        require_within("max_output_dbu", self.max_output_dbu, -60, 200)


@dataclass(frozen=True, slots=True, kw_only=True)
class Before:
    """What changes a plug's level before the interface, in order: the instrument's own volume, a pedal, a mixer.

    own_volume_db counts from where the instrument's levels are told; its noise does not follow it.
    """

    own_volume_db: float = 0.0
    pedal_db: float = 0.0
    mixer_db: float = 0.0

    def __post_init__(self) -> None:
        for name in ("own_volume_db", "pedal_db", "mixer_db"):
            require_within(name, getattr(self, name), -60, 60)

    def behind(self, plug: "PlugLevels") -> "PlugLevels":
        """Return a plug as it is behind these stages: the planner of kits starts there."""
        later_db = self.pedal_db + self.mixer_db
        by_db = self.own_volume_db + later_db
        louder = plug.shifted(peak_db=by_db, typical_db=by_db, quiet_db=by_db)
        return replace(louder, noise_dbu=louder.noise_dbu + later_db)


AS_USUAL: Final = Before()
"""Nothing stands before the interface, and the instrument's own volume is as usual."""


@dataclass(frozen=True, slots=True, kw_only=True)
class PluggedSetup:
    """All that decides the levels of a plugged-in part; the preamp's input impedance is that of the input used."""

    plug: PlugLevels
    preamp: Preamp
    converter: Converter
    box: DiBox | None = None
    before: Before = AS_USUAL

    @property
    def source(self) -> PlugLevels:
        return self.plug

    @property
    def gain_db(self) -> float:
        return self.preamp.gain_db

    def at_gain(self, gain_db: float) -> "PluggedSetup":
        """Return the same at another gain."""
        return replace(self, preamp=replace(self.preamp, gain_db=gain_db))


@dataclass(frozen=True, slots=True, kw_only=True)
class XlrSetup:
    """All that decides the levels of a part behind a microphone, a preamp and a converter.

    off_axis_deg is how far the source lies off the microphone's axis, low_cut_hz where a low-cut begins (0: off),
    extent_m half the width of what sounds. direct_to_reverberant_db is how far the direct sound leads the room's there,
    None where the room's is left out; it dies away in rt60_s.
    """

    source: SourceLevels
    distance_m: float
    room_noise_dba: float
    microphone: Microphone
    preamp: Preamp
    converter: Converter
    off_axis_deg: float = 0.0
    low_cut_hz: float = 0.0
    extent_m: float = 0.0
    direct_to_reverberant_db: float | None = None
    rt60_s: float | None = None

    def __post_init__(self) -> None:
        _require_in_the_air(self)

    @property
    def gain_db(self) -> float:
        return self.preamp.gain_db

    def at_gain(self, gain_db: float) -> "XlrSetup":
        """Return the same at another gain."""
        return replace(self, preamp=replace(self.preamp, gain_db=gain_db))


@dataclass(frozen=True, slots=True, kw_only=True)
class UsbSetup:
    """The same behind a microphone that brings its converter along: by USB, or in a recorder."""

    source: SourceLevels
    distance_m: float
    room_noise_dba: float
    microphone: UsbMicrophone
    off_axis_deg: float = 0.0
    low_cut_hz: float = 0.0
    extent_m: float = 0.0
    direct_to_reverberant_db: float | None = None
    rt60_s: float | None = None

    def __post_init__(self) -> None:
        _require_in_the_air(self)

    @property
    def gain_db(self) -> float:
        return self.microphone.gain_db

    def at_gain(self, gain_db: float) -> "UsbSetup":
        """Return the same at another gain."""
        return replace(self, microphone=replace(self.microphone, gain_db=gain_db))


MikedSetup = XlrSetup | UsbSetup
LineSetup = XlrSetup | UsbSetup | PluggedSetup
"""What `line` and `rig` read: matched by its kind, no field is there that does not hold."""


def _require_in_the_air(setup: MikedSetup) -> None:
    require_within("distance_m", setup.distance_m, NEAREST_M, FARTHEST_M)
    require_within("off_axis_deg", setup.off_axis_deg, 0, 180)
    require_within("low_cut_hz", setup.low_cut_hz, 0, 400)
    require_within("extent_m", setup.extent_m, 0, 10)
    require_within("noise_dba", setup.room_noise_dba, -20, 140)
    if setup.direct_to_reverberant_db is not None:
        require_within("direct_to_reverberant_db", setup.direct_to_reverberant_db, -100, 100)
    if setup.rt60_s is not None:
        require_positive("rt60_s", setup.rt60_s, 60)
