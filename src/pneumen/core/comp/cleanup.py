"""What stays between phrases: the room's own tone, or silence, with the breaths or without."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.comp.vote import HOP_S, Span

ROOM, SILENCE = CLEANUPS = ("room", "silence")
"""The schools: pauses keep the room's tone, so that nothing is heard to come and go; or they are silent."""
BEFORE_S: Final = 0.06
"""So long before a sound a phrase begins: consonants rise slowly."""
AFTER_S: Final = 0.25
"""So long after it a phrase rings on."""
LEAST_BREATH_S: Final = 0.12
BREATH_WITHIN_DB: Final = 24.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Kept:
    """What is kept of a phrase, in song time; breath_s is where its breath begins, None where none is heard."""

    start_s: float
    end_s: float
    breath_s: float | None


def kept_of(span: Span, levels_db: np.ndarray, sounds: np.ndarray, *, cleanup: str, breaths: bool) -> Kept:
    """Return what is kept of a phrase.

    Args:
        levels_db: the take's, every 20 ms of song time; sounds: where it sounds (1, 0 or NaN).
        cleanup: one of CLEANUPS.
        breaths: whether they stay.
    """
    first, last = round(span.start_s / HOP_S), round(span.end_s / HOP_S)
    heard = np.flatnonzero(sounds[first:last] == 1)
    if not heard.size:
        return Kept(start_s=span.start_s, end_s=span.end_s, breath_s=None)
    begins_s, ends_s = (first + int(heard[0])) * HOP_S, (first + int(heard[-1]) + 1) * HOP_S
    breath_s = _breath(levels_db, first, first + int(heard[0]))
    if cleanup == ROOM and (breaths or breath_s is None):
        return Kept(start_s=span.start_s, end_s=span.end_s, breath_s=breath_s)
    start_s = begins_s if breath_s is None or not breaths else breath_s
    end_s = span.end_s if cleanup == ROOM else min(span.end_s, ends_s + AFTER_S)
    return Kept(start_s=max(span.start_s, start_s - BEFORE_S), end_s=end_s, breath_s=breath_s)


def _breath(levels_db: np.ndarray, first: int, begins: int) -> float | None:
    """Return where a breath begins before a sound: a soft rise over the pause, not long before it."""
    before = levels_db[first:begins]
    if len(before) * HOP_S < LEAST_BREATH_S + BEFORE_S:
        return None
    floor = float(np.quantile(before, 0.1))
    after = levels_db[begins : begins + 25]
    top = float(after.max()) if after.size else 0.0
    raised = before > max(floor + 6.0, top - BREATH_WITHIN_DB - 12.0)
    edges = np.flatnonzero(np.diff(np.concatenate([[0], raised.astype(np.int8), [0]])))
    for start, stop in zip(edges[::2][::-1].tolist(), edges[1::2][::-1].tolist(), strict=True):
        if (stop - start) * HOP_S >= LEAST_BREATH_S:
            return float((first + start) * HOP_S)
    return None
