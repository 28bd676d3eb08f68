"""One thing that can be bought or is owned: what it is, what it costs, what lies in its box, what its sheet says."""

import re
from dataclasses import dataclass, fields
from typing import Any, Final

from pneumen.core.errors import Contradiction, OutOfRange, UnknownName, require_within
from pneumen.core.gear import (
    INTERFACE_FAMILIES,
    MICROPHONE_FAMILIES,
    RECORDER_FAMILY,
    InterfaceFamily,
    MicrophoneFamily,
    interface_from_sheet,
    microphone_from_sheet,
    require_pattern,
)
from pneumen.core.kit.kinds import CONNECTS, FACTS, KIND_LABELS, LIST, REQUIRED

DEAREST: Final = 1_000_000.0
USUAL_INSTRUMENT_OHM: Final = 1e6
ID_PATTERN: Final = re.compile(r"[a-z0-9][a-z0-9._-]{0,59}")
MICROPHONE_SHEET: Final = (
    "sensitivity_mv_per_pa",
    "self_noise_dba",
    "max_spl_db",
    "impedance_ohm",
    "full_scale_db_spl",
    "pattern",
)
INTERFACE_SHEET: Final = (
    "gain_min_db",
    "gain_max_db",
    "ein_dbu",
    "max_input_dbu",
    "input_impedance_ohm",
    "dynamic_range_db",
    "gain_step_db",
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Item:
    """An item; FACTS tells the meaning, unit and range of each fact. in_box holds kinds, or ids in a bundle.

    Raises:
        OutOfRange, UnknownName, Contradiction: naming the field and what would be right.
    """

    id: str
    kind: str
    name: str
    price: float
    delivery: float = 0.0
    in_box: tuple[str, ...] = ()
    owned: bool = False
    note: str = ""

    family: str = ""
    pattern: str = ""
    sensitivity_mv_per_pa: float | None = None
    self_noise_dba: float | None = None
    max_spl_db: float | None = None
    impedance_ohm: float | None = None
    full_scale_db_spl: float | None = None
    tone: str = ""
    low_hz: float | None = None
    high_hz: float | None = None
    gain_marking: str = ""
    gain_min_db: float | None = None
    gain_max_db: float | None = None
    ein_dbu: float | None = None
    max_input_dbu: float | None = None
    input_impedance_ohm: float | None = None
    dynamic_range_db: float | None = None
    mic_inputs: int | None = None
    instrument_inputs: int | None = None
    instrument_impedance_ohm: float | None = None
    line_inputs: int | None = None
    line_max_input_dbu: float | None = None
    phantom: str = ""
    line_outputs: int | None = None
    phones_plug: str = ""
    phones_volt: float | None = None
    phones_output_ohm: float | None = None
    converters_ms: float | None = None
    safety_samples: int | None = None
    round_trip_ms: tuple[float, ...] = ()
    highest_rate_khz: float | None = None
    systems: tuple[str, ...] = ()
    bus_powered: bool | None = None
    gain_db: float | None = None
    weakest_gain_db: float | None = None
    gain_step_db: float | None = None
    noise_dbu: float | None = None
    max_output_dbu: float | None = None
    active: bool | None = None
    ground_lift: bool | None = None
    length_m: float | None = None
    plug_from: str = ""
    plug_to: str = ""
    reach_m: float | None = None
    closed: bool | None = None
    sensitivity_db_per_mw: float | None = None
    max_spl_1m_db: float | None = None
    balanced: bool | None = None
    tracks: int | None = None
    takes: bool | None = None
    latency_compensation: bool | None = None
    price_model: str = ""
    absorption_m2: tuple[float, ...] = ()
    width_m: float | None = None
    height_m: float | None = None
    learning: int | None = None
    sturdy: int | None = None
    stows: bool | None = None

    def __post_init__(self) -> None:
        if not ID_PATTERN.fullmatch(self.id):
            raise Contradiction("id", "must be lower-case letters, digits, dots and hyphens, up to 60")
        if self.kind not in KIND_LABELS:
            raise UnknownName("kind", self.kind, tuple(KIND_LABELS))
        if not self.name.strip():
            raise Contradiction("name", "must not be empty")
        require_within("price", self.price, 0, DEAREST)
        require_within("delivery", self.delivery, 0, DEAREST)
        for name in FACTS:
            if self.says(name):
                self._check(name)
        for name in REQUIRED.get(self.kind, ()):
            if not self.says(name):
                raise Contradiction(name, f"is needed for kind {self.kind}")
        if self.kind == "microphone":
            microphone_from_sheet(self.family, self.sheet)
        elif self.kind == "interface":
            interface_from_sheet(self.family, self.sheet)
        elif self.kind == "bundle" and len(self.in_box) < 2:
            raise Contradiction("in_box", "of a bundle must hold at least two items")
        elif self.kind == "inline-pad":
            self._check_control()

    def says(self, name: str) -> bool:
        """Tell whether the sheet holds a fact."""
        return getattr(self, name) not in (None, "", ())

    def _check(self, name: str) -> None:
        fact, value = FACTS[name], getattr(self, name)
        if fact.kinds and self.kind not in fact.kinds:
            raise Contradiction(name, f"does not go with kind {self.kind}")
        if name == "pattern":
            require_pattern(value)
        elif fact.figures:
            if len(value) != fact.figures:
                raise Contradiction(name, f"must hold {fact.figures} figures: {fact.meaning}")
            for figure in value:
                require_within(name, figure, fact.low, fact.high)
        elif fact.allowed:
            for word in value if fact.shape == LIST else (value,):
                if word not in fact.allowed:
                    raise UnknownName(name, word, fact.allowed)
        elif fact.high and not fact.low <= value <= fact.high:
            raise OutOfRange(name, value, f"between {fact.low:g} and {fact.high:g}")

    def _check_control(self) -> None:
        if self.weakest_gain_db is None:
            if self.gain_step_db is not None:
                raise Contradiction("gain_step_db", "needs weakest_gain_db: the setting the steps begin at")
        elif self.gain_db is not None and self.weakest_gain_db <= self.gain_db:
            raise Contradiction("weakest_gain_db", "must lie above gain_db, which is the strongest setting")

    @property
    def shop_cost(self) -> float:
        """What one more piece takes to have it at home: price and delivery (a year of what is paid monthly)."""
        months = 12 if self.price_model == "monthly" else 1
        return months * self.price + self.delivery

    @property
    def cost(self) -> float:
        """What it takes to have it at home; owned, nothing."""
        return 0.0 if self.owned else self.shop_cost

    @property
    def area_m2(self) -> float:
        """How much wall a covering takes; 0 where it does not say."""
        return (self.width_m or 0.0) * (self.height_m or 0.0)

    @property
    def connects(self) -> str | None:
        """The plug it goes on with, usb, xlr or jack; None for what carries no signal on."""
        if self.kind == "microphone":
            return self.microphone_family.plug
        return CONNECTS.get(self.kind)

    @property
    def sheet(self) -> dict[str, Any]:
        """What is printed of a microphone or interface, as the core's data sheets read it."""
        names = MICROPHONE_SHEET if self.kind == "microphone" else INTERFACE_SHEET
        return {name: getattr(self, name) for name in names if self.says(name)}

    @property
    def microphone_family(self) -> MicrophoneFamily:
        return RECORDER_FAMILY if self.kind == "recorder" else MICROPHONE_FAMILIES[self.family]

    @property
    def interface_family(self) -> InterfaceFamily:
        return INTERFACE_FAMILIES[self.family]

    @property
    def inputs(self) -> int:
        """How many things an interface or recorder takes at once."""
        return max(self.mic_inputs or 0, self.instrument_inputs or 0, self.line_inputs or 0, 1)

    def inputs_of(self, kind: str) -> int:
        """How many inputs of a kind (mic, instrument, line) it has; where its sheet is silent, one for a microphone."""
        there = {"mic": self.mic_inputs, "instrument": self.instrument_inputs, "line": self.line_inputs}[kind]
        return int(kind == "mic") if there is None else there

    @property
    def instrument_ohm(self) -> float:
        """What a plug meets at an interface's instrument input; where the sheet is silent the usual 1 Mohm."""
        return self.instrument_impedance_ohm or USUAL_INSTRUMENT_OHM

    def works_with(self, system: str) -> bool:
        """Tell whether it works with a system; where either is not known, it is taken to."""
        return not self.systems or not system or system in self.systems


ITEM_FIELDS: Final = tuple(field.name for field in fields(Item) if field.name not in ("owned",))
"""The columns of the open formats, in order."""
