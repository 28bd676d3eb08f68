"""A layer tightened to its lead: each phrase shifted by what it lies off, nothing stretched."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final

from pneumen.core.comp.document import Comp, CompPhrase, CompTake
from pneumen.core.comp.vote import Span
from pneumen.core.performance import LATE_MS, PhraseOffset

BEFORE_S: Final = 0.12
"""A phrase is cut so long before its first note begins: consonants and breath noise come first."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Shift:
    """One phrase of a layer: where it stands in the song, how much later than its lead, and by how much it moves.

    Few milliseconds are what makes a double wide: what lies less than LATE_MS off is left alone.
    """

    span: Span
    late_ms: float
    shift_ms: float


def shifts_for(
    phrases: Sequence[PhraseOffset], *, shared_ms: float, lead_offset_s: float, song_s: float
) -> tuple[Shift, ...]:
    """Return what is to be shifted in a layer.

    Args:
        phrases: of the layer against its own median, at the time its lead begins each in the lead's file.
        shared_ms: how much later all of the layer is than its lead, where that is known; else 0.
        lead_offset_s: where the lead's first sample lies in the song.
    """
    starts = [max(0.0, one.start_s + lead_offset_s - BEFORE_S) for one in phrases]
    found = []
    for number, (one, start_s) in enumerate(zip(phrases, starts, strict=True)):
        first, last = (0.0 if number == 0 else start_s), (starts[number + 1] if number + 1 < len(starts) else song_s)
        late_ms = one.offset_ms + shared_ms
        if last > first:
            moved = -late_ms if abs(late_ms) >= LATE_MS else 0.0
            found.append(Shift(span=Span(start_s=first, end_s=last), late_ms=late_ms, shift_ms=moved))
    return tuple(found)


def tightened(take: CompTake, shifts: Sequence[Shift], *, rate_hz: int, song_s: float) -> Comp:
    """Return the comp that lays each phrase of one take where its lead has it."""
    takes, phrases = {}, []
    for shift in shifts:
        name = f"{shift.shift_ms:+.1f} ms"
        takes[name] = replace(take, offset_s=take.offset_s + shift.shift_ms / 1000)
        phrases.append(CompPhrase(take=name, start_s=shift.span.start_s, end_s=shift.span.end_s))
    return Comp(rate_hz=rate_hz, length_s=song_s, takes=takes, phrases=tuple(phrases), seam_search_ms=60.0)
