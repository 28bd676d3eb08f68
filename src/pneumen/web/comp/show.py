"""What the lyric sheet shows: lines with their takes, seams in the margin, what is still to be sung, the track."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Final

from django.template.loader import render_to_string
from django.urls import reverse
from django.utils.html import escape
from django.utils.safestring import SafeString

from pneumen.core.comp import ANOTHER_TEMPO, LineChoice
from pneumen.core.take import JUDGINGS
from pneumen.core.verdict import Verdict
from pneumen.web.comp.choices import Held, Sheet
from pneumen.web.comp.ground import Laid, laid_takes
from pneumen.web.comp.models import CompTrack, SheetLine
from pneumen.web.comp.punch import Punch, punch_of
from pneumen.web.comp.sheet import begins_within
from pneumen.web.comp.track import is_fresh, plan_of, track_of
from pneumen.web.comp.track_show import SeamShown, TrackShown, seams_shown, track_shown, verdict_of
from pneumen.web.part.models import Part
from pneumen.web.take.log import preferences_of
from pneumen.web.take.models import Take
from pneumen.web.templatetags.pneumen import glyph
from pneumen.wording.figures import clock
from pneumen.wording.language import _
from pneumen.wording.log import MARKED, MARKS
from pneumen.wording.sheet import (
    CLEANUPS,
    NO_LINES,
    NO_TAKES,
    NOT_LAID,
    line_label,
    offset_told,
    sentence_told,
    tempo_told,
    why_told,
)

BUTTON: Final = (
    '<button name="choose" value="{line}:{number}" tabindex="-1" class="lyric-take {classes}" title="{told}" '
    'data-take="{number}" data-at="{at_s}" data-level="{level}" aria-pressed="{pressed}" aria-label="{label}">'
    '<b>{number}</b><i aria-hidden="true">{marks}</i>{glyph}</button>'
)
SHORT: Final = {"good": "+", "weak": "−", "": "·"}


@dataclass(frozen=True, slots=True, kw_only=True)
class TakeMark:
    """One take under a line: at_s is where the line begins in its file. marks are one sign each, in the user's order."""

    number: int
    state: str
    marks: str
    verdict: Verdict
    told: str
    at_s: str
    level: str

    def button(self, line: int) -> SafeString:
        """Return the button that chooses it for a line.

        Written here and not in a template: the seven hundred of a long sheet would take a tenth of a second there.
        All but what is told of it are figures and names of ours.
        """
        told = escape(self.told)
        return SafeString(
            BUTTON.format(
                line=line,
                number=self.number,
                classes=f"v-{self.verdict}{f' is-{self.state}' if self.state else ''}",
                pressed="true" if self.state == "chosen" else "false",
                label=_("Take {number}{which}").format(number=self.number, which=f": {told}" if told else ""),
                told=told,
                at_s=self.at_s,
                level=self.level,
                marks=self.marks,
                glyph="" if self.verdict is Verdict.CLEAR else glyph(self.verdict, 10),
            )
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class LineShown:
    """A line on the sheet; take is the one it has, proposed whether nobody chose it yet; begins how early and how late
    it may begin, None where it is not laid."""

    pk: int
    number: int
    when: str
    start_s: str
    length_s: str
    begins: tuple[float, float] | None
    section: str
    label: str
    take: int | None
    proposed: bool
    close: bool
    second: int | None
    why: str
    marks: tuple[TakeMark, ...]
    seam: SeamShown | None

    @property
    def data(self) -> SafeString:
        """What the script knows of it: figures of ours alone, written here as the buttons are."""
        earliest, latest = self.begins or ("", "")
        told = {
            "line": self.pk,
            "start": self.start_s,
            "length": self.length_s,
            "earliest": earliest,
            "latest": latest,
            "chosen": self.take or "",
        }
        return SafeString(" ".join(f'data-{name}="{value}"' for name, value in told.items()))

    @property
    def buttons(self) -> SafeString:
        """Its takes, each a button that chooses it."""
        return SafeString(" ".join(mark.button(self.pk) for mark in self.marks))

    @property
    def classes(self) -> str:
        return f"lyric-line{' has-take' if self.take else ''}{' is-proposed' if self.proposed else ''}"

    @property
    def spoken(self) -> str:
        take = (
            _(", take {take}{which}").format(take=self.take, which=" proposed" if self.proposed else "")
            if self.take
            else ""
        )
        return _("Line {number}: {label}{take}").format(number=self.number, label=self.label, take=take)


@lru_cache(maxsize=1024)
def drawn_line(line: LineShown, *, prefix: str, first: bool, laid: bool) -> SafeString:
    """Return a line's HTML; a choice changes few lines of many, and the others are there already.

    Args:
        prefix: what the address of a line begins with; first: the keys begin here; laid: there are takes to choose.
    """
    told = {"line": line, "prefix": prefix, "first": first, "laid": laid}
    return SafeString(render_to_string("comp/line.html", told))


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetScreen:
    """The whole page; line_prefix is what the address of a line begins with, worked out once for all of them."""

    sentence: str
    verdict: Verdict
    line_prefix: str
    lines: tuple[LineShown, ...]
    laid: bool
    open_lines: int
    takes: tuple[tuple[Take, str], ...]
    caveats: tuple[str, ...]
    punch: tuple[Punch, ...]
    track: TrackShown | None
    cleanups: Mapping[str, str]
    words: str
    from_sections: int
    other_sheets: tuple[tuple[int, str], ...]
    sources: Mapping[int, str]

    @property
    def drawn_lines(self) -> SafeString:
        """Return all lines as HTML."""
        how = {"prefix": self.line_prefix, "laid": self.laid and bool(self.takes)}
        return SafeString("".join(drawn_line(line, first=not number, **how) for number, line in enumerate(self.lines)))


def sheet_screen(part: Part, sheet: Sheet) -> SheetScreen:
    """Return what the page shows."""
    laid = laid_takes(part)
    takes = [take for take, _rest in laid]
    track = track_of(part)
    plan = plan_of(part, track or CompTrack(part=part), sheet, laid) if takes and sheet.lines else None
    fresh = track is not None and is_fresh(track, plan)
    has_times = bool(sheet.lines) and sheet.lines[0].start_s is not None
    return SheetScreen(
        sentence=_sentence(sheet, laid=has_times, takes=bool(takes), made=bool(track and track.made_of)),
        verdict=verdict_of(track),
        line_prefix=reverse("comp:line", args=[part.pk, 0]).removesuffix("0/"),
        lines=_lines(part, sheet, laid, track if fresh else None),
        laid=has_times,
        open_lines=sum(one.take is not None for one in sheet.choices) - len(sheet.chosen),
        takes=tuple((take, offset_told(offset)) for take, offset in laid),
        caveats=_caveats(takes),
        punch=punch_of(part, sheet),
        track=None if track is None else track_shown(track, fresh=fresh),
        cleanups=CLEANUPS,
        words=_words(sheet.lines),
        from_sections=len(part.sections.all()),
        other_sheets=_other_sheets(part),
        sources={take.number: reverse("take:audio", args=[part.pk, take.number]) for take in takes},
    )


def _sentence(sheet: Sheet, *, laid: bool, takes: bool, made: bool) -> str:
    if not sheet.lines:
        return str(NO_LINES)
    if not takes:
        return str(NO_TAKES)
    if not laid:
        return str(NOT_LAID)
    return sentence_told(sheet.choices, len(sheet.chosen), len(sheet.punch), made=made)


def _caveats(takes: list[Take]) -> tuple[str, ...]:
    places = [(take, getattr(take, "place", None)) for take in takes]
    return tuple(
        tempo_told(take.number, place.tempo_off)
        for take, place in places
        if place is not None and abs(place.tempo_off) > ANOTHER_TEMPO
    )


def _words(lines: tuple[SheetLine, ...]) -> str:
    """Return the sheet as it could be pasted in."""
    told, section = [], ""
    for line in lines:
        if line.section != section:
            section = line.section
            told.append(f"[{section}]")
        if line.words:
            told.append(line.words)
    return "\n".join(told) if any(line.words for line in lines) else ""


def _other_sheets(part: Part) -> tuple[tuple[int, str], ...]:
    rows = Part.objects.filter(song=part.song_id).exclude(pk=part.pk).filter(sheet_lines__isnull=False)
    return tuple(rows.distinct().values_list("pk", "name"))


def _lines(part: Part, sheet: Sheet, laid: Laid, track: CompTrack | None) -> tuple[LineShown, ...]:
    order = JUDGINGS[preferences_of(part).judging]
    offsets = {take.number: offset.offset_s for take, offset in laid}
    seams = seams_shown(sheet, track)
    found, section = [], ""
    for number, (line, choice) in enumerate(zip(sheet.lines, sheet.choices, strict=True)):
        take = sheet.path[number]
        marks = tuple(
            _mark(
                line,
                row,
                one,
                _state(choice, sheet.chosen.get(number), one),
                offsets[one],
                sheet.marks[number][one],
                order,
            )
            for one, row in sheet.held[number].items()
            if row.holds and one in offsets
        )
        found.append(
            LineShown(
                pk=line.pk,
                number=number + 1,
                when="" if line.start_s is None else clock(line.start_s, 1),
                start_s="" if line.start_s is None else f"{line.start_s:.3f}",
                length_s="" if line.start_s is None or line.end_s is None else f"{line.end_s - line.start_s:.3f}",
                begins=None
                if line.start_s is None
                else begins_within(line, sheet.lines[number - 1] if number else None),
                section=line.section if line.section != section else "",
                label=line_label(line.words, line.bars, number + 1),
                take=take,
                proposed=number not in sheet.chosen and take is not None,
                close=choice.close and number not in sheet.chosen,
                second=choice.second,
                why=why_told(choice, order, chosen=number in sheet.chosen) if line.start_s is not None else "",
                marks=marks,
                seam=seams.get(number),
            )
        )
        section = line.section
    return tuple(found)


def _state(choice: LineChoice, chosen: int | None, number: int) -> str:
    if chosen is not None:
        return "chosen" if chosen == number else ""
    return "proposed" if choice.take == number else ""


def _mark(
    line: SheetLine,
    row: Held,
    number: int,
    state: str,
    offset_s: float,
    marks: Mapping[str, str],
    order: tuple[str, ...],
) -> TakeMark:
    verdict = Verdict.BAKED_IN if row.faults else Verdict.WATCH if row.others else Verdict.CLEAR
    told = [f"{MARKED[name]} {MARKS[mark]}" for name, mark in ((name, marks[name]) for name in order) if mark]
    if row.kinds:
        told.append(row.kinds.replace(",", ", "))
    return TakeMark(
        number=number,
        state=state,
        marks="".join(SHORT[marks[name]] for name in order),
        verdict=verdict,
        told="; ".join(told),
        at_s=f"{(line.start_s or 0.0) + row.lag_s - offset_s:.3f}",
        level="" if row.level_db is None else f"{row.level_db:.1f}",
    )
