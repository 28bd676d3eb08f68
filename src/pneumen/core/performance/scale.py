"""A song's key as people write it, and whether a note belongs to its scale."""

import re
from typing import Final

from pneumen.core.errors import UnknownName

LETTERS: Final = {"A": 0, "B": 2, "H": 2, "C": 3, "D": 5, "E": 7, "F": 8, "G": 10}
"""Semitones over A; H is what some call B."""
SIGNS: Final = {"": 0, "#": 1, "\N{MUSIC SHARP SIGN}": 1, "b": -1, "\N{MUSIC FLAT SIGN}": -1}
MODES: Final = {
    "major": (0, 2, 4, 5, 7, 9, 11),
    "minor": (0, 2, 3, 5, 7, 8, 9, 10, 11),
    "dorian": (0, 2, 3, 5, 7, 9, 10),
    "phrygian": (0, 1, 3, 5, 7, 8, 10),
    "lydian": (0, 2, 4, 6, 7, 9, 11),
    "mixolydian": (0, 2, 4, 5, 7, 9, 10),
}
"""Minor holds both forms of its sixth and seventh: melodies use either."""
ALLOWED: Final = ("C major", "F# minor", "Bb", "Am", "D dorian")
SHORT: Final = {"": "major", "maj": "major", "m": "minor", "min": "minor"}


def scale_of(key: str) -> frozenset[int]:
    """Return the semitones over A, 0 to 11, of a key's scale.

    >>> sorted(scale_of("C major")), scale_of("Am") == scale_of("a minor")
    ([0, 2, 3, 5, 7, 8, 10], True)

    Raises:
        UnknownName: where it is no key.
    """
    found = re.fullmatch(r"\s*([A-Ha-h])\s*(#|b|\u266f|\u266d)?\s*-?\s*([A-Za-z]*)\s*", key)
    mode = found[3] if found else ""
    name = SHORT.get(mode, mode.lower())
    if found is None or name not in MODES:
        raise UnknownName("key", key, ALLOWED)
    tonic = LETTERS[found[1].upper()] + SIGNS[found[2] or ""]
    return frozenset((tonic + step) % 12 for step in MODES[name])


def nearest_in(scale: frozenset[int], semitones: float) -> int:
    """Return the semitone of a scale nearest to a pitch; the lower of two as near.

    >>> nearest_in(scale_of("C major"), 4.2)
    5
    """
    around = range(int(semitones) - 12, int(semitones) + 13)
    return min((one for one in around if one % 12 in scale), key=lambda one: (abs(one - semitones), one))
