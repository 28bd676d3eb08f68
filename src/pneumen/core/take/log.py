"""The log of takes: how often each section was sung or played, what to do next, and when to rest.

Counts and limits are common practice, no source: at least three full passes of a lead before weak phrases are punched
in; after ten takes of a section rest or practice brings more than the eleventh.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from pneumen.core.errors import UnknownName

PASS, PUNCH, TEST = TAKE_KINDS = ("pass", "punch", "test")
"""A full pass, one passage punched in, a test of levels."""
RHYTHM, FEELING, PITCH = MARKED = ("rhythm", "feeling", "pitch")
GOOD, WEAK = MARKS = ("good", "weak")
JUDGINGS: Final = {"rhythm": (RHYTHM, FEELING, PITCH), "feeling": (FEELING, RHYTHM, PITCH)}
"""The schools of judging a take: what counts first. Pitch is last in both, since it alone can be mended."""
RESTS: Final = ("ten", "as-many")
"""The schools of rest: after ten takes, or as many as it takes."""
ENOUGH_PASSES: Final = 3
MANY_TAKES: Final = 10
TEST_SHARE: Final = 0.4
"""A take shorter than that share of the longest is no full pass (estimate)."""

HURT, REST, MORE_PASSES, PUNCH_IN, SECTION_REST, LISTEN = ADVICES = (
    "hurt",
    "rest",
    "more-passes",
    "punch-in",
    "section-rest",
    "listen",
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Logged:
    """One take as the log sees it. kind and marks are empty where its person said nothing; section is a passage's name.

    ruined: it holds what cannot be mended. kept is false for a take that was put away: it was sung all the same.
    """

    number: int
    duration_s: float
    kind: str = ""
    section: str = ""
    rhythm: str = ""
    feeling: str = ""
    pitch: str = ""
    ruined: bool = False
    kept: bool = True
    here: bool = True
    """Whether it belongs to the session that is going on."""

    def __post_init__(self) -> None:
        if self.kind and self.kind not in TAKE_KINDS:
            raise UnknownName("kind", self.kind, TAKE_KINDS)
        if self.rhythm or self.feeling or self.pitch:
            self._check_marks()

    def _check_marks(self) -> None:
        for name in MARKED:
            if (mark := getattr(self, name)) and mark not in MARKS:
                raise UnknownName(name, mark, MARKS)

    @property
    def marks(self) -> tuple[str, ...]:
        return self.rhythm, self.feeling, self.pitch

    @property
    def is_usable(self) -> bool:
        """Whether nothing speaks against it: one mark is enough, none is neutral."""
        return not self.ruined and WEAK not in self.marks


@dataclass(frozen=True, slots=True, kw_only=True)
class SectionCount:
    """How often a section was recorded: in full passes and by itself; usable are those that nothing speaks against.

    section is empty for the part as a whole.
    """

    section: str
    passes: int
    punches: int
    usable: int

    @property
    def takes(self) -> int:
        return self.passes + self.punches


@dataclass(frozen=True, slots=True, kw_only=True)
class Advice:
    """What to do next: kind is one of ADVICES; section and count where they belong to it."""

    kind: str
    section: str = ""
    count: int = 0


def kind_of_take(duration_s: float, longest_s: float, section: str) -> str:
    """Return what a take most likely is, where nobody said.

    Args:
        longest_s: the longest take of the part.

    >>> kind_of_take(12, 180, ""), kind_of_take(12, 180, "Chorus"), kind_of_take(170, 180, "")
    ('test', 'punch', 'pass')
    """
    if section:
        return PUNCH
    return TEST if duration_s < TEST_SHARE * longest_s else PASS


def kinds_in(takes: Sequence[Logged]) -> dict[int, str]:
    """Return by its number what each take is: as its person said, or else as its length tells."""
    longest_s = max((take.duration_s for take in takes), default=0.0)
    return {take.number: take.kind or kind_of_take(take.duration_s, longest_s, take.section) for take in takes}


def counts_in(takes: Sequence[Logged], sections: Sequence[str]) -> tuple[SectionCount, ...]:
    """Return how often each section of a part was recorded, or the whole where it has none; tests do not count."""
    kinds = kinds_in(takes)
    kept = [take for take in takes if take.kept]
    passes = [take for take in kept if kinds[take.number] == PASS]
    usable_passes, punches = sum(take.is_usable for take in passes), [t for t in kept if kinds[t.number] == PUNCH]
    found = []
    for section in sections or ("",):
        alone = [take for take in punches if take.section == section or not section]
        usable = usable_passes + sum(take.is_usable for take in alone)
        found.append(SectionCount(section=section, passes=len(passes), punches=len(alone), usable=usable))
    return tuple(found)


def advice_on(
    takes: Sequence[Logged], sections: Sequence[str], *, rest: str = RESTS[0], hurt: bool = False
) -> tuple[Advice, ...]:
    """Return what to do next, what matters most first.

    Args:
        rest: one of RESTS.
        hurt: the session that was last ended for pain or hoarseness.

    Raises:
        UnknownName: for a school of rest that is none.
    """
    if rest not in RESTS:
        raise UnknownName("rest", rest, RESTS)
    if hurt:
        return (Advice(kind=HURT),)
    advice: list[Advice] = []
    sung = sum(take.here for take in takes)
    if rest == RESTS[0] and sung >= MANY_TAKES:
        advice.append(Advice(kind=REST, count=sung))
    counts = counts_in(takes, sections)
    passes = counts[0].passes
    if passes < ENOUGH_PASSES:
        advice.append(Advice(kind=MORE_PASSES, count=ENOUGH_PASSES - passes))
    else:
        weak = [one for one in counts if not one.usable]
        if len(weak) == len(counts) > 1:  # no pass is without a weak mark, and none tells where
            weak = [SectionCount(section="", passes=passes, punches=0, usable=0)]
        advice += [Advice(kind=PUNCH_IN, section=one.section, count=one.takes) for one in weak]
        if not any(mark for take in takes if take.kept for mark in take.marks):
            advice.append(Advice(kind=LISTEN, count=passes))
    if rest == RESTS[0]:
        many = [one for one in counts if one.section and one.punches and one.takes >= MANY_TAKES]
        advice += [Advice(kind=SECTION_REST, section=one.section, count=one.takes) for one in many]
    return tuple(advice)
