"""How long the stand-in plays for so many lines of a song."""

from typing import Final

import numpy as np

from pneumen.core.rig.performer import PERFORMERS, notes_of

LONGEST_S: Final = 600.0
END_S: Final = 0.65
"""What a performance leaves at its end is a little more than the last note needs."""
APART: Final = 0.8
"""Of a performer's usual rest: a longer gap parts two lines."""


def length_of_lines(source: str, lines: int, phrase_seed: int) -> float:
    """Return how long a performance of so many lines is, in seconds, LONGEST_S at most.

    Args:
        source: a key of PERFORMERS.
        phrase_seed: decides the notes, as of `perform`.
    """
    performer = PERFORMERS[source]
    notes = notes_of(performer, LONGEST_S, np.random.default_rng([phrase_seed, 11]))
    rest_s, sung, end_s = performer.rest_s + performer.ring_s, 1, notes[0].start_s
    for note in notes:
        if note.start_s - end_s > APART * rest_s:
            sung += 1
            if sung > lines:
                break
        end_s = note.start_s + note.length_s
    return min(end_s + performer.ring_s + END_S, LONGEST_S)
