"""A device of a chain: what it is, how it is set, and what of its kind's defaults it says otherwise."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Final

from pneumen.core.errors import Contradiction, UnknownName, require_positive, require_within
from pneumen.core.hookup.kinds import (
    INPUT_MODES,
    INPUT_OHM,
    KINDS,
    MAX_INPUT_DBU,
    DeviceKind,
    kind_named,
    socket_of_port,
)

TRACKS: Final = ("mono", "stereo")
FIGURES: Final = (
    ("gain_db", -60, 80),
    ("input_count", 0, 256),
    ("gain_range_db", 0, 120),
    ("strongest_db", -60, 0),
    ("current_ma", 0, 100),
    ("rate_hz", 8_000, 768_000),
    ("power_w", 0, 5000),
)
"""What else is told of a device in figures, and within which bounds."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Device:
    """A device.

    phantom tells by port where 48 V is on, phantom_shared whether one switch serves all inputs (switch_known:
    whether anybody said so), inputs what each is set to. ground_lift is a DI box's, or of whatever breaks the
    shield, where one switch serves it all (lift_shared); else lifts tells it by output; switched_off is what stays
    silent while recording.

    modes are what its inputs can be set to, input_count how many they are (None: as many as are named);
    gain_range_db how far its gain rises over the lowest; strongest_db what a pad with a control adds at its
    strongest; current_ma what it draws of 48 V. rate_hz is the rate a device or a program runs at; system what a
    computer runs, systems what a device has drivers for (none told: any). tracks tells by input what it is recorded
    to, mono or stereo.
    """

    id: str
    kind: str
    phantom: Mapping[str, bool] = field(default_factory=dict, hash=False)
    phantom_shared: bool = False
    switch_known: bool = True
    inputs: Mapping[str, str] = field(default_factory=dict, hash=False)
    phones: str = ""
    plug: str = ""
    ground_lift: bool = False
    lift_shared: bool = True
    lifts: Mapping[str, bool] = field(default_factory=dict, hash=False)
    switched_off: bool = False
    needs_phantom: bool | None = None
    hurt_by_phantom: bool | None = None
    output_impedance_ohm: float | None = None
    input_impedance_ohm: float | None = None
    output_dbu: float | None = None
    max_input_dbu: float | None = None
    gain_db: float | None = None
    modes: tuple[str, ...] = INPUT_MODES
    input_count: int | None = None
    gain_range_db: float | None = None
    strongest_db: float | None = None
    current_ma: float | None = None
    rate_hz: int | None = None
    system: str = ""
    systems: tuple[str, ...] = ()
    tracks: Mapping[str, str] = field(default_factory=dict, hash=False)
    power_w: float | None = None

    def __post_init__(self) -> None:
        if not self.id.strip() or "." in self.id:
            raise Contradiction("id", "must be a word without a full stop")
        facts = kind_named(self.kind)
        for port in self.lifts:
            if socket_of_port(facts, port) != "out":
                raise Contradiction(f"{self.id}.{port}", f"is no output of a {self.kind}")
        for port in (*self.phantom, *self.inputs, *self.tracks):
            if socket_of_port(facts, port) != "in":
                raise Contradiction(f"{self.id}.{port}", f"is no input of a {self.kind}")
        for port, mode in self.inputs.items():
            if mode not in INPUT_MODES:
                raise UnknownName(f"{self.id}.inputs.{port}", mode, INPUT_MODES)
        for port, track in self.tracks.items():
            if track not in TRACKS:
                raise UnknownName(f"{self.id}.tracks.{port}", track, TRACKS)
        for mode in self.modes:
            if mode not in INPUT_MODES:
                raise UnknownName(f"{self.id}.modes", mode, INPUT_MODES)
        self._check_figures()

    def _check_figures(self) -> None:
        for name in ("output_impedance_ohm", "input_impedance_ohm"):
            if (value := getattr(self, name)) is not None:
                require_positive(f"{self.id}.{name}", value, 1e9)
        for name in ("output_dbu", "max_input_dbu"):
            if (value := getattr(self, name)) is not None:
                require_within(f"{self.id}.{name}", value, -120, 80)
        for name, low, high in FIGURES:
            if (value := getattr(self, name)) is not None:
                require_within(f"{self.id}.{name}", value, low, high)

    @property
    def facts(self) -> DeviceKind:
        return KINDS[self.kind]

    @property
    def wants_phantom(self) -> bool:
        return self.facts.needs_phantom if self.needs_phantom is None else self.needs_phantom

    @property
    def fears_phantom(self) -> bool:
        return self.facts.hurt_by_phantom if self.hurt_by_phantom is None else self.hurt_by_phantom

    @property
    def output_ohm(self) -> float | None:
        return self.facts.output_impedance_ohm if self.output_impedance_ohm is None else self.output_impedance_ohm

    @property
    def adds_db(self) -> float:
        """What it does to the level of what goes through."""
        return self.facts.gain_db if self.gain_db is None else self.gain_db

    @property
    def watts(self) -> float | None:
        return self.facts.power_w if self.power_w is None else self.power_w

    def breaks_shield_at(self, port: str) -> bool:
        """Tell whether the ground is lifted at a port: by one switch for all, or by that channel's own."""
        return self.ground_lift if self.lift_shared else self.lifts.get(port, False)

    def carries(self, port: str) -> str:
        """Return what a port carries; an input of an interface what it is set to."""
        socket = socket_of_port(self.facts, port) or ""
        return self.mode(port) if socket == "in" and self.facts.feeds_phantom else self.facts.sockets[socket]

    def mode(self, port: str) -> str:
        """Return what an input is set to."""
        return self.inputs.get(port, "mic")

    def takes_ohm(self, port: str) -> float | None:
        """Return the load an input is; None where it is not known."""
        if self.input_impedance_ohm is not None:
            return self.input_impedance_ohm
        return INPUT_OHM[self.mode(port)] if self.facts.feeds_phantom else self.facts.input_impedance_ohm

    def takes_dbu(self, port: str) -> float | None:
        """Return the highest peak an input takes; None where it is not known."""
        if self.max_input_dbu is not None:
            return self.max_input_dbu
        return MAX_INPUT_DBU[self.mode(port)] if self.facts.feeds_phantom else self.facts.max_input_dbu

    def phantom_on(self, port: str) -> bool:
        """Tell whether 48 V stands on an input: only microphone inputs have it, one switch may serve them all."""
        if not self.facts.feeds_phantom or self.mode(port) != "mic":
            return False
        return any(self.phantom.values()) if self.phantom_shared else self.phantom.get(port, False)
