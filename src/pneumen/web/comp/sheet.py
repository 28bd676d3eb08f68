"""The lines of the sheet: taken from the words, laid to the takes, split, joined and moved."""

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from difflib import SequenceMatcher
from typing import Final

import numpy as np
from django.db import transaction
from django.db.models import F

from pneumen.core.comp import (
    HOP_S,
    LineFigures,
    Span,
    TakeGround,
    lay_bars,
    lay_lines,
    line_figures,
    phrases_by_vote,
    weight_of,
)
from pneumen.core.errors import Contradiction, OutOfRange, require_within
from pneumen.web.comp.ground import beside, grounds_of, leading, takes_on_sheet
from pneumen.web.comp.models import LineTake, SheetLine, TakePlace
from pneumen.web.part.models import Backing, Part
from pneumen.web.take.models import Take
from pneumen.wording.language import _

MOST_LINES: Final = 400
MOST_LETTERS: Final = 500
BARS_A_LINE: Final = 4
FULL_SHARE: Final = 0.6
"""A take so long beside the longest has a say in where phrases end."""
LEAST_LINE_S: Final = 0.1
FIGURES: Final = tuple(LineFigures.__dataclass_fields__)


@dataclass(frozen=True, slots=True, kw_only=True)
class Wanted:
    """A line that is to stand on the sheet."""

    section: str = ""
    words: str = ""
    bars: float | None = None


def wanted_from_text(text: str) -> list[Wanted]:
    """Return the lines of words that were pasted in; a name in square brackets begins a section.

    Raises:
        OutOfRange: for too many lines, or one that is too long.
    """
    found, section = [], ""
    for line in (one.strip() for one in text.splitlines()):
        if heading := re.fullmatch(r"\[(.{1,60})\]", line):
            section = heading[1].strip()
        elif line:
            if len(line) > MOST_LETTERS:
                raise OutOfRange(
                    "line", len(line), _("of at most {most_letters} letters").format(most_letters=MOST_LETTERS)
                )
            found.append(Wanted(section=section, words=line))
    return found


def wanted_from_sections(part: Part) -> list[Wanted]:
    """Return the lines that the part's sections tell of: their words, or else their bars."""
    found = []
    for section in part.sections.all():
        words = [line.strip()[:MOST_LETTERS] for line in section.words.splitlines() if line.strip()]
        if words:
            found += [Wanted(section=section.name, words=one, bars=section.bars / len(words)) for one in words]
            continue
        left = float(section.bars)
        while left > 0:
            found.append(Wanted(section=section.name, bars=min(left, BARS_A_LINE)))
            left -= BARS_A_LINE
    return found


def wanted_from_part(other: Part) -> list[Wanted]:
    """Return the lines of another part's sheet."""
    rows = other.sheet_lines.values_list("section", "words", "bars")
    return [Wanted(section=section, words=words, bars=bars) for section, words, bars in rows]


@transaction.atomic
def write_lines(part: Part, wanted: Sequence[Wanted]) -> None:
    """Have these lines on the sheet and lay the takes to them; lines that stay keep what was said of them.

    Raises:
        Contradiction, OutOfRange: naming what cannot be; nothing is changed then.
    """
    if not wanted:
        raise Contradiction("words", _("hold no line: paste the song's words, one line below the other"))
    if len(wanted) > MOST_LINES:
        raise OutOfRange("lines", len(wanted), _("at most {most_lines}").format(most_lines=MOST_LINES))
    rows = list(part.sheet_lines.all())
    before, after = [(row.section, row.words) for row in rows], [(one.section, one.words) for one in wanted]
    kept: dict[int, SheetLine] = {}
    for block in SequenceMatcher(a=before, b=after, autojunk=False).get_matching_blocks():
        kept |= {block.b + step: rows[block.a + step] for step in range(block.size)}
    staying = {row.pk for row in kept.values()}
    part.sheet_lines.exclude(pk__in=staying).delete()
    for position, one in enumerate(wanted):
        row = kept.get(position) or SheetLine(owner=part.owner, part=part, section=one.section, words=one.words)
        row.position, row.bars = position, one.bars
        row.save()
    lay(part)


@transaction.atomic
def lines_by_ear(part: Part) -> None:
    """Have a line for each phrase that is heard in the takes.

    Raises:
        Contradiction: where none is.
    """
    takes = takes_on_sheet(part, heard=True)
    _place(part, takes)
    phrases = _phrases(grounds_of(part, takes_on_sheet(part, heard=True)))
    if not phrases:
        raise Contradiction("takes", _("hold no phrase yet: record one first"))
    part.sheet_lines.all().delete()
    for position, span in enumerate(phrases[:MOST_LINES]):
        SheetLine.objects.create(owner=part.owner, part=part, position=position, start_s=span.start_s, end_s=span.end_s)
    refresh(part)


@transaction.atomic
def lay(part: Part) -> None:
    """Lay the takes to the lines: by the phrases they agree on, or by bars where nothing pauses.

    Without takes the lines just wait.
    """
    takes = takes_on_sheet(part, heard=True)
    rows = list(part.sheet_lines.all())
    if not takes or not rows:
        return
    _place(part, takes)
    grounds = grounds_of(part, takes_on_sheet(part, heard=True))
    phrases = _phrases(grounds)
    for row, span in zip(rows, _spans(part, rows, phrases, grounds), strict=True):
        row.start_s, row.end_s = span.start_s, span.end_s
        row.save(update_fields=["start_s", "end_s"])
    refresh(part, grounds=grounds)


def _spans(
    part: Part, rows: Sequence[SheetLine], phrases: Sequence[Span], grounds: Sequence[TakeGround]
) -> Iterable[Span]:
    backing = Backing.objects.filter(song=part.song_id).first()
    bars = [row.bars for row in rows]
    if len(phrases) <= 1 and backing and backing.tempo_bpm and all(bars):
        bar_s = part.song.metre * 60 / backing.tempo_bpm
        return lay_bars([float(one or 0) for one in bars], bar_s=bar_s)
    weights = [weight_of(row.words) if row.words else float(row.bars or BARS_A_LINE) for row in rows]
    return lay_lines(weights, phrases, np.max([one.levels_db for one in grounds], axis=0))


def _phrases(grounds: Sequence[TakeGround]) -> tuple[Span, ...]:
    """Return the phrases that the full takes agree on."""
    longest = max((one.file.duration_s for one in grounds), default=0.0)
    return phrases_by_vote([one.sounds for one in grounds if one.file.duration_s >= FULL_SHARE * longest])


def _place(part: Part, takes: Sequence[Take]) -> None:
    """Lay all takes to the longest: store how much later the song begins in each, and how much slower it is."""
    lead = max(takes, key=lambda take: take.length_s or 0.0, default=None)
    if lead is not None:
        TakePlace.objects.filter(take__part=part).update(leads=False, others_lag_s=None)
        for take in takes:
            if (place := getattr(take, "place", None)) is not None:
                place.others_lag_s = None  # the same in the rows at hand
        _place_beside(part, lead, takes)


@transaction.atomic
def _place_beside(part: Part, lead: Take, takes: Sequence[Take]) -> None:
    for take, (lag_s, tempo_off) in zip(takes, beside(part, lead, takes), strict=True):
        values = {"owner": part.owner, "others_lag_s": lag_s, "tempo_off": tempo_off, "leads": take.pk == lead.pk}
        TakePlace.objects.update_or_create(take=take, defaults=values)


def take_up(part: Part) -> None:
    """Take up takes that came in: lay the lines where none was laid yet, else lay the new ones to the rest.

    The take that leads stays the one it was, whatever comes later: the lines stand in its time.
    """
    first = part.sheet_lines.first()
    if first is None:
        return
    if first.start_s is None:
        try:
            lay(part)
        except Contradiction:  # nothing sounds in it: the next take may tell more
            return
        return
    takes = takes_on_sheet(part, heard=True)
    number = leading(takes)
    new = [take for take in takes if getattr(take, "place", None) is None]
    if number is not None and new:
        _place_beside(part, takes[number], new)
    refresh(part)


def refresh(part: Part, grounds: Sequence[TakeGround] | None = None) -> None:
    """Tell anew what each take holds of each line; marks stay."""
    takes, rows = takes_on_sheet(part, heard=True), list(part.sheet_lines.all())
    if not rows or rows[0].start_s is None:
        return
    laid = grounds_of(part, takes) if grounds is None else grounds
    spans = [
        None if row.start_s is None or row.end_s is None else Span(start_s=row.start_s, end_s=row.end_s) for row in rows
    ]
    found = []
    for row, figures in zip(rows, line_figures(laid, spans), strict=True):
        for take, one in zip(takes, figures, strict=True):
            values = {name: getattr(one, name) for name in FIGURES} | {"kinds": ",".join(one.kinds)[:200]}
            found.append(LineTake(owner=part.owner, line=row, take=take, **values))
    with transaction.atomic():  # not round all of it: nobody waits for what is only worked out
        LineTake.objects.filter(line__part=part).exclude(take__in=takes).update(holds=False)
        LineTake.objects.bulk_create(
            found, update_conflicts=True, unique_fields=["line", "take"], update_fields=list(FIGURES)
        )


@transaction.atomic
def split_line(line: SheetLine, after_word: int) -> None:
    """Split a line after a word, or in the middle where it has none; its takes are cut where they are softest near by.

    Raises:
        Contradiction: where there is nothing to split.
    """
    words = line.words.split()
    if words and not 0 < after_word < len(words):
        raise Contradiction(
            "word",
            _("must be one of the first {words}").format(words=len(words) - 1)
            if len(words) > 1
            else _("is the only one"),
        )
    first, second = (" ".join(words[:after_word]), " ".join(words[after_word:])) if words else ("", "")
    share = weight_of(first) / (weight_of(first) + weight_of(second)) if words else 0.5
    part = line.part
    part.sheet_lines.filter(position__gt=line.position).update(position=F("position") + 1)
    new = SheetLine(owner=line.owner, part=part, position=line.position + 1, section=line.section, words=second)
    new.take = line.take
    if line.bars:
        new.bars = line.bars * (1 - share)
        line.bars *= share
    if line.start_s is not None and line.end_s is not None:
        if line.end_s - line.start_s < 2 * LEAST_LINE_S:
            raise Contradiction("line", _("is too short to be split"))
        at_s = _softest(part, line.start_s, line.end_s, share)
        new.start_s, new.end_s, line.end_s = at_s, line.end_s, at_s
    line.words = first
    line.save()
    new.save()
    refresh(part)


def _softest(part: Part, start_s: float, end_s: float, share: float) -> float:
    """Return where near a share of a stretch the takes are softest."""
    takes = takes_on_sheet(part, heard=True)
    length_s = end_s - start_s
    due = start_s + share * length_s
    if not takes:
        return due
    levels = np.max([one.levels_db for one in grounds_of(part, takes)], axis=0)
    reach = min(share, 1 - share) * length_s / 2
    first = round((due - reach) / HOP_S)
    around = levels[first : round((due + reach) / HOP_S) + 1]
    return (first + int(around.argmin())) * HOP_S if around.size else due


@transaction.atomic
def join_lines(line: SheetLine) -> None:
    """Join a line with the one that follows.

    Raises:
        Contradiction: where none follows.
    """
    following = line.part.sheet_lines.filter(position__gt=line.position).first()
    if following is None:
        raise Contradiction("line", _("is the last one: nothing follows that it could be joined with"))
    line.words = f"{line.words} {following.words}".strip()[:MOST_LETTERS]
    line.bars = (line.bars or 0) + (following.bars or 0) or None
    line.end_s = following.end_s if line.start_s is not None else None
    following.delete()
    line.save()
    refresh(line.part)


def begins_within(line: SheetLine, before: SheetLine | None) -> tuple[float, float]:
    """Return how early and how late a laid line may begin, seconds, with a length left for it and the one before."""
    low_s = 0.0
    if before is not None and before.start_s is not None and before.end_s is not None:
        low_s = before.start_s + LEAST_LINE_S if _touches(line, before) else before.end_s
    return round(low_s, 3), round((line.end_s or 0.0) - LEAST_LINE_S, 3)


def _touches(line: SheetLine, before: SheetLine) -> bool:
    """Tell whether a line begins where the one before it ends."""
    return before.end_s is not None and line.start_s is not None and abs(before.end_s - line.start_s) < HOP_S


@transaction.atomic
def move_line(line: SheetLine, start_s: float) -> None:
    """Move where a line begins; where the one before it ends there, it ends there still.

    Raises:
        OutOfRange: where that would leave either without a length.
        Contradiction: for a line that was not laid yet.
    """
    if line.start_s is None or line.end_s is None:
        raise Contradiction("line", _("must be laid to the takes before it can be moved"))
    before = line.part.sheet_lines.filter(position__lt=line.position).last()
    require_within("beginning", round(start_s, 3), *begins_within(line, before))
    if before is not None and _touches(line, before):
        before.end_s = start_s
        before.save(update_fields=["end_s"])
    line.start_s = start_s
    line.save(update_fields=["start_s"])
    refresh(line.part)


@transaction.atomic
def place_take(take: Take, by_ear_s: float | None, drift_ppm: float | None = None) -> None:
    """Lay a take by ear, or where it lies by itself; drift_ppm sets its clock right, positive where it was fast.

    Raises:
        OutOfRange: for an offset or a clock that cannot be.
    """
    if by_ear_s is not None:
        require_within("offset", by_ear_s, -86_400, 86_400)
    require_within("clock", drift_ppm or 0.0, -1000, 1000)
    values = {"owner": take.owner, "by_ear_s": by_ear_s, "drift_ppm": drift_ppm}
    TakePlace.objects.update_or_create(take=take, defaults=values)
    refresh(take.part)
