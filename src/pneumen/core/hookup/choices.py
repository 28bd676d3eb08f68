"""What a person chose at a joint: another lead, another setting, another outlet; each cures or brings about a fault."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Final

from pneumen.core.errors import OutOfRange, UnknownName, require_positive
from pneumen.core.hookup.additions import ADDITIONS, SPEAKER_ENDS
from pneumen.core.hookup.chain import LONGEST_M, Chain
from pneumen.core.hookup.changes import CHANGES
from pneumen.core.hookup.device import TRACKS
from pneumen.core.hookup.kinds import INPUT_MODES

FIXED_PADS: Final = ("10", "20", "30")
"""What pads without a control take, in dB."""
MOST_PAD_DB: Final = 60.0
ON_OFF: Final = ("on", "off")
VALUES: Final = {
    "also": ON_OFF,
    "balanced": ("balanced", "unbalanced"),
    "input": INPUT_MODES,
    "phantom": ON_OFF,
    "switch": ("each", "all"),
    "lift": ON_OFF,
    "lifts": ("all", "each"),
    "outlet": ("strip", "other"),
    "speaker": SPEAKER_ENDS,
    "box": ("none", "active", "passive"),
    "plugged": ("in", "out"),
    "plug": ("3.5 mm", "6.35 mm"),
    "rate": ("44100", "48000", "88200", "96000"),
    "track": TRACKS,
    "power": ON_OFF,
    "current": ("2", "4", "7", "10", "14"),
    "watt": ("2.5", "5", "15", "30", "60", "100"),
    "lead": ("speaker", "ts"),
    "monitor": ("active", "passive"),
    "returns": ("interface", "itself"),
    "ears": ("interface", "computer"),
    "supply": ("computer", "mains"),
    "system": ("windows", "mac", "linux", "tablet"),
    "pad": ("none", *FIXED_PADS, "stepped", "variable"),
    "booster": ON_OFF,
    "apart": ("on",),
}
"""What can be chosen, by what it is about, where it is one of a few words."""
NUMBERS: Final = {"length": ("length_m", LONGEST_M, "metres"), "pad-db": ("pad_db", MOST_PAD_DB, "decibels")}
"""What is chosen as a number: its name with unit, the most it may be, and the unit's word."""
CHOICES: Final = (*NUMBERS, *VALUES)
OF_A_PART: Final = ("pad", "pad-db", "booster", "apart")
"""What changes a part's gear, or when it is recorded: levels and lists follow, and so does the chain."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Choice:
    """One choice: about what, at which port or device, and what was chosen.

    Raises:
        UnknownName: for what cannot be chosen.
        OutOfRange: for a length or a pad nobody makes.
    """

    what: str
    at: str
    value: str

    def __post_init__(self) -> None:
        if self.what not in CHOICES:
            raise UnknownName("what", self.what, CHOICES)
        if self.what in NUMBERS:
            name, most, unit = NUMBERS[self.what]
            try:
                require_positive(name, float(self.value), most)
            except OutOfRange:
                raise
            except ValueError:
                raise UnknownName(self.what, self.value, (f"a number of {unit}",)) from None
        elif self.value not in VALUES[self.what]:
            raise UnknownName(self.what, self.value, VALUES[self.what])


def with_choices(chain: Chain, choices: Iterable[Choice]) -> Chain:
    """Return a chain as it was chosen; what is about a joint that is gone is left aside, and what is a part's."""
    made, added = list(CHANGES), list(ADDITIONS)

    def turn(choice: Choice) -> tuple[int, int]:
        return made.index(choice.what), added.index(choice.at) if choice.at in added else 0

    for choice in sorted((one for one in choices if one.what in CHANGES), key=turn):
        chain = CHANGES[choice.what](chain, choice.at, choice.value)
    return chain
