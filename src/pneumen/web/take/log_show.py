"""What the log shows: takes by session with their marks, counts by section, what to do next."""

from dataclasses import dataclass
from typing import Final

from pneumen.core.take import JUDGINGS, MARKED, MARKS, SectionCount, changes_between, counts_in, kinds_in
from pneumen.core.verdict import Verdict, worst_of
from pneumen.web.part.models import Part
from pneumen.web.take.log import advice_for, guessed_kind, logged_of, preferences_of, sitting_now
from pneumen.web.take.models import Sitting, Take
from pneumen.wording.figures import figure
from pneumen.wording.language import _
from pneumen.wording.log import GUESSED, KINDS, advice_told, advice_verdict, changes_told
from pneumen.wording.log import MARKED as MARKED_TOLD

ROWS_A_PAGE: Final = 40
NOTHING_YET: Final = _("Nothing is recorded yet: the log begins with the first take.")
ON_THE_WAY: Final = _("Nothing is wanting: listen, and choose.")


@dataclass(frozen=True, slots=True, kw_only=True)
class Mark:
    """One thing to judge, with the values one can give it; key is the letter that gives the next one."""

    name: str
    label: str
    value: str
    key: str
    choices: tuple[tuple[str, bool], ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Judgement:
    """What is said of one take, and what differs from the one before."""

    marks: tuple[Mark, ...]
    kind: str
    kinds: tuple[tuple[str, str], ...]
    guessed: str
    section: str
    sections: tuple[str, ...]
    remark: str
    changes: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Row:
    """A take in the log; marks are (what, value) in the order of the user's school. progress is the share measured,
    None where it failed."""

    take: Take
    kind: str
    peak: str
    verdict: Verdict | None
    progress: float | None
    marks: tuple[tuple[str, str], ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class LogScreen:
    """The whole log of a part."""

    verdict: Verdict
    sentence: str
    advice: tuple[tuple[Verdict, str], ...]
    counts: tuple[SectionCount, ...]
    rows: tuple[Row, ...]
    is_measuring: bool
    older: int | None
    newer: int | None
    sitting: Sitting | None
    sittings: tuple[Sitting, ...]
    judging: str
    rest: str


def order_of(part: Part) -> tuple[str, ...]:
    """Return in which order this person judges."""
    return JUDGINGS[preferences_of(part).judging]


def judgement_of(part: Part, take: Take) -> Judgement:
    """Return what the Takes screen lets one say of a take."""
    keys = {"rhythm": "r", "feeling": "f", "pitch": "i"}
    marks = []
    for name in order_of(part):
        value = getattr(take, name)
        choices = tuple((mark, mark == value) for mark in MARKS)
        marks.append(Mark(name=name, label=MARKED_TOLD[name], value=value, key=keys[name], choices=choices))
    return Judgement(
        marks=tuple(marks),
        kind=take.kind,
        kinds=tuple(KINDS.items()),
        guessed=f"{KINDS[guessed_kind(take)]}, {GUESSED}",
        section=take.section,
        sections=tuple(section.name for section in part.core_sections),
        remark=take.remark,
        changes=_changes(part, take),
    )


def _changes(part: Part, take: Take) -> str:
    before = part.takes.filter(number__lt=take.number).only("number", "snapshot", "recorded", "section").first()
    return "" if before is None else changes_told(before.number, changes_between(before.settings, take.settings))


def log_screen(part: Part, page: int = 1) -> LogScreen:
    """Return the log with one page of its takes, the newest first."""
    counted = logged_of(part)
    advice = tuple((advice_verdict(one), advice_told(one)) for one in advice_for(part, counted))
    rows = part.takes.select_related("sitting").prefetch_related("jobs").for_log().reverse()
    shown = list(rows[(page - 1) * ROWS_A_PAGE : page * ROWS_A_PAGE + 1])
    kinds, order = kinds_in(counted), order_of(part)
    preferences = preferences_of(part)
    return LogScreen(
        verdict=worst_of(verdict for verdict, _rest in advice) if counted else Verdict.OPEN,
        sentence=(advice[0][1] if advice else ON_THE_WAY) if counted else NOTHING_YET,
        advice=advice[1:],
        counts=counts_in(counted, [one.name for one in part.core_sections]),
        rows=tuple(_row(take, kinds, order) for take in shown[:ROWS_A_PAGE]),
        is_measuring=any(take.status in (Take.WAITING, Take.WORKING) for take in shown),
        older=page + 1 if len(shown) > ROWS_A_PAGE else None,
        newer=page - 1 if page > 1 else None,
        sitting=sitting_now(part.song),
        sittings=tuple(part.song.sittings.all()[:ROWS_A_PAGE]),
        judging=preferences.judging,
        rest=preferences.rest,
    )


def _row(take: Take, kinds: dict[int, str], order: tuple[str, ...]) -> Row:
    return Row(
        take=take,
        kind=KINDS[kinds[take.number]] if take.number in kinds else "",
        peak="" if take.peak_dbfs is None else f"{figure(take.peak_dbfs, 1)} dBFS",
        verdict=take.verdict,
        progress=None if take.status == Take.FAILED else take.progress,
        marks=tuple((MARKED_TOLD[name], getattr(take, name)) for name in order if name in MARKED),
    )
