"""Data sheets as dataclasses, validated once and trusted afterwards."""

from dataclasses import dataclass
from typing import Final

from pneumen.core.errors import Contradiction, UnknownName, require_positive, require_within
from pneumen.core.gear.patterns import PATTERNS

GAIN_MARKINGS: Final = ("db", "bare", "none")
"""How a gain control is marked: in dB, not at all (a bare knob), or there is no control."""

LOWEST_EIN_DBU_A: Final = -133.0
"""Thermal noise of 150 ohm, A-weighted: no preamp's equivalent input noise can be lower (Johnson, Nyquist 1928)."""

GRILLE_M: Final = 0.025
"""A capsule lies 2 to 3 cm behind the grille, to which many people measure (common practice, no source)."""


def require_pattern(pattern: str) -> None:
    """Refuse a pattern that is not one of PATTERNS.

    Raises:
        UnknownName: naming the patterns there are.
    """
    if pattern not in PATTERNS:
        raise UnknownName("pattern", pattern, tuple(PATTERNS))


@dataclass(frozen=True, slots=True, kw_only=True)
class Microphone:
    """A microphone with an XLR plug as its data sheet gives it."""

    sensitivity_mv_per_pa: float
    self_noise_dba: float
    max_spl_db: float
    impedance_ohm: float
    pad_db: float = 0.0
    pattern: str = "omni"

    def __post_init__(self) -> None:
        require_positive("sensitivity_mv_per_pa", self.sensitivity_mv_per_pa, 1000)
        require_within("self_noise_dba", self.self_noise_dba, -20, 80)
        require_within("max_spl_db", self.max_spl_db, 60, 200)
        require_positive("impedance_ohm", self.impedance_ohm, 1e6)
        require_within("pad_db", self.pad_db, 0, 60)
        require_pattern(self.pattern)


@dataclass(frozen=True, slots=True, kw_only=True)
class UsbMicrophone:
    """A microphone with its converter built in: full_scale_db_spl is the sine that reaches 0 dBFS at gain 0 dB."""

    full_scale_db_spl: float
    self_noise_dba: float
    gain_db: float = 0.0
    pattern: str = "omni"

    def __post_init__(self) -> None:
        require_within("full_scale_db_spl", self.full_scale_db_spl, 60, 200)
        require_within("self_noise_dba", self.self_noise_dba, -20, 80)
        require_within("gain_db", self.gain_db, -80, 80)
        require_pattern(self.pattern)


@dataclass(frozen=True, slots=True, kw_only=True)
class Preamp:
    """A preamp at one setting. max_input_dbu is the sine's RMS level that reaches 0 dBFS at gain_min_db, pads off."""

    gain_db: float
    gain_min_db: float
    gain_max_db: float
    ein_dbu: float
    max_input_dbu: float
    input_impedance_ohm: float
    pad_db: float = 0.0

    def __post_init__(self) -> None:
        require_within("gain_min_db", self.gain_min_db, -60, 100)
        require_within("gain_max_db", self.gain_max_db, -60, 100)
        if self.gain_max_db < self.gain_min_db:
            raise Contradiction("gain_max_db", f"must be at least the lowest gain, {self.gain_min_db:g} dB")
        require_within("gain_db", self.gain_db, self.gain_min_db, self.gain_max_db)
        require_within("ein_dbu", self.ein_dbu, -160, -40)
        require_within("max_input_dbu", self.max_input_dbu, -60, 60)
        require_positive("input_impedance_ohm", self.input_impedance_ohm, 1e8)
        require_within("pad_db", self.pad_db, 0, 60)


@dataclass(frozen=True, slots=True, kw_only=True)
class Converter:
    """An analogue-to-digital converter by its A-weighted dynamic range."""

    dynamic_range_db: float

    def __post_init__(self) -> None:
        require_within("dynamic_range_db", self.dynamic_range_db, 40, 180)


@dataclass(frozen=True, slots=True, kw_only=True)
class Interface:
    """An audio interface's microphone input, its converter and how its gain control is marked.

    gain_step_db is the step of a control that has steps; 1 where it turns freely.
    """

    gain_min_db: float
    gain_max_db: float
    ein_dbu: float
    max_input_dbu: float
    input_impedance_ohm: float
    dynamic_range_db: float
    gain_marking: str = "db"
    inputs: int = 2
    phantom: bool = True
    pad_db: float = 0.0
    gain_step_db: float = 1.0

    def __post_init__(self) -> None:
        require_within("gain_step_db", self.gain_step_db, 0.1, 20)
        if self.gain_marking not in GAIN_MARKINGS:
            raise UnknownName("gain_marking", self.gain_marking, GAIN_MARKINGS)
        require_within("inputs", self.inputs, 1, 64)
        self.preamp_at(self.gain_min_db)
        Converter(dynamic_range_db=self.dynamic_range_db)

    def preamp_at(self, gain_db: float) -> Preamp:
        """Return the preamp set to a gain, clamped to what the control offers."""
        return Preamp(
            gain_db=min(max(gain_db, self.gain_min_db), self.gain_max_db),
            gain_min_db=self.gain_min_db,
            gain_max_db=self.gain_max_db,
            ein_dbu=self.ein_dbu,
            max_input_dbu=self.max_input_dbu,
            input_impedance_ohm=self.input_impedance_ohm,
            pad_db=self.pad_db,
        )

    @property
    def converter(self) -> Converter:
        return Converter(dynamic_range_db=self.dynamic_range_db)
