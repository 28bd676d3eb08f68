"""One line of the sheet with all its takes: marks, timing, tuning, level, findings, and where it begins."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from pneumen.core.comp import usual_level_db
from pneumen.core.performance import unlike_db
from pneumen.core.take import JUDGINGS
from pneumen.core.verdict import Verdict
from pneumen.web.comp.choices import Held, Sheet
from pneumen.web.comp.models import CompTrack, LineTake, SheetLine
from pneumen.web.comp.sheet import begins_within
from pneumen.web.comp.track_show import SeamShown, seams_shown
from pneumen.web.part.models import Part
from pneumen.web.take.log import preferences_of
from pneumen.wording.comp import laid_told
from pneumen.wording.figures import figure
from pneumen.wording.log import MARKED
from pneumen.wording.sheet import TONE_BESIDE, line_label, why_told


@dataclass(frozen=True, slots=True, kw_only=True)
class Detail:
    """One take of the chosen line, in words."""

    number: int
    state: str
    marks: tuple[tuple[str, str, str, str], ...]
    figures: tuple[str, ...]
    findings: str
    verdict: Verdict


@dataclass(frozen=True, slots=True, kw_only=True)
class LineScreen:
    """One line with all its takes."""

    line: SheetLine
    number: int
    label: str
    words: tuple[tuple[int, str], ...]
    takes: tuple[Detail, ...]
    why: str
    seam: SeamShown | None
    begins: str
    earliest: float
    latest: float
    has_next: bool


def line_screen(part: Part, pk: int, sheet: Sheet, track: CompTrack | None) -> LineScreen | None:
    """Return one line of the sheet, with the seam before it where the track is as the sheet stands; None without it."""
    number = next((number for number, line in enumerate(sheet.lines) if line.pk == pk), None)
    if number is None:
        return None
    line, choice = sheet.lines[number], sheet.choices[number]
    order = JUDGINGS[preferences_of(part).judging]
    earliest, latest = begins_within(line, sheet.lines[number - 1] if number else None)
    words = line.words.split()
    return LineScreen(
        line=line,
        number=number + 1,
        label=line_label(line.words, line.bars, number + 1),
        words=tuple((place, word) for place, word in enumerate(words[:-1], start=1)),
        takes=tuple(_details(part, sheet, number, order)),
        why=why_told(choice, order, chosen=number in sheet.chosen) if line.start_s is not None else "",
        seam=seams_shown(sheet, track).get(number),
        begins="" if line.start_s is None else f"{line.start_s:.2f}",
        earliest=earliest,
        latest=latest,
        has_next=number + 1 < len(sheet.lines),
    )


def _details(part: Part, sheet: Sheet, number: int, order: tuple[str, ...]) -> list[Detail]:
    rows = sheet.held[number]
    tones = _tones(part, sheet, number)
    usual_db = usual_level_db(rows.values()) or 0.0
    found = []
    for take, row in rows.items():
        if not row.holds:
            continue
        marks = sheet.marks[number][take]
        chosen = sheet.chosen.get(number)
        state = "chosen" if chosen == take else "proposed" if sheet.path[number] == take else ""
        found.append(
            Detail(
                number=take,
                state=state,
                marks=tuple((name, MARKED[name], marks[name], next_mark(getattr(row, name))) for name in order),
                figures=(*_figures(row, usual_db), *_unlike(sheet, number, take, tones)),
                findings=row.kinds.replace(",", ", "),
                verdict=Verdict.BAKED_IN if row.faults else Verdict.WATCH if row.others else Verdict.CLEAR,
            )
        )
    return found


def _figures(row: Held, usual_db: float) -> Iterator[str]:
    """Yield how a take stands in a line: timing beside the other takes, tuning, level beside the line's usual one."""
    if row.offset_ms is not None:
        yield f"{figure(row.offset_ms, 0, sign=True)} ms"
    if row.cents is not None:
        yield f"{figure(row.cents, 0, sign=True)} cents"
    if row.level_db is not None:
        yield f"{figure(row.level_db - usual_db, 1, sign=True)} dB"
    if row.lag_s:
        yield laid_told(row.lag_s)


def _tones(part: Part, sheet: Sheet, number: int) -> dict[tuple[int, int], list[float]]:
    """Return how takes' tones differ from the others', by line and take, for a line and those beside it."""
    places = {line.pk: place for place, line in enumerate(sheet.lines) if abs(place - number) <= 1}
    rows = LineTake.objects.filter(line__in=places, take__part=part, holds=True)
    return {(places[line], take): tone for line, take, tone in rows.values_list("line", "take__number", "tone")}


def _unlike(sheet: Sheet, number: int, take: int, tones: Mapping[tuple[int, int], list[float]]) -> Iterator[str]:
    """Yield how unlike a take's tone is to what stands in the lines beside it, where those are of another take."""
    for beside in (number - 1, number + 1):
        other = sheet.path[beside] if 0 <= beside < len(sheet.lines) else None
        if other is None or other == take:
            continue
        unlike = unlike_db(tones.get((number, take), []), tones.get((beside, other), []))
        if unlike is not None:
            yield TONE_BESIDE.format(off=figure(unlike, 1), line=beside + 1)


def next_mark(value: str) -> str:
    """Return the mark that follows one on a press: none, good, weak, none."""
    return {"": "good", "good": "weak", "weak": ""}[value]
