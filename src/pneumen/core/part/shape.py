"""The shape of a song: its sections with their bars and how loud each is, and what that makes of a part's levels."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final, TypeVar

from pneumen.core.errors import Contradiction, require_within
from pneumen.core.setup import PlugLevels, SourceLevels

AnyLevels = TypeVar("AnyLevels", SourceLevels, PlugLevels)

ROLES: Final = ("lead", "backing", "double")
USUAL_SECTIONS: Final = (("Verse", 16, -3.0), ("Chorus", 16, 3.0), ("Bridge", 8, 0.0), ("Solo", 8, 2.0))
"""Name, bars and loudness of the sections most songs have (common practice, no source)."""
SOFTEST_DB, LOUDEST_DB = -30.0, 15.0
MOST_BARS: Final = 999
SAME_LOUDNESS_DB: Final = 1.0
LEAST_RISE_DB: Final = 2.0
LEAST_APART_DB: Final = 4.0
"""A section so much louder than the rest is worth a take of its own where a level will not fit (common practice, no
source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Section:
    """One section of a part: loudness_db is against the part's usual level."""

    name: str
    bars: int
    loudness_db: float

    def __post_init__(self) -> None:
        if not self.name.strip():
            raise Contradiction("name", "must not be empty")
        require_within("bars", self.bars, 1, MOST_BARS)
        require_within("loudness", self.loudness_db, SOFTEST_DB, LOUDEST_DB)


def loudest_of(sections: Sequence[Section]) -> int | None:
    """Return the index of the loudest section, the first of equals; None where there is none.

    >>> loudest_of([Section(name="A", bars=8, loudness_db=0), Section(name="B", bars=8, loudness_db=3)])
    1
    """
    return max(range(len(sections)), key=lambda n: sections[n].loudness_db, default=None)


def rise_of(sections: Sequence[Section]) -> tuple[str, float] | None:
    """Return the loudest section's name and how far it stands over the energy mean of all softer ones, dB.

    None where nothing stands out by LEAST_RISE_DB: then one gain and one place serve the whole part.
    """
    loudest = loudest_of(sections)
    if loudest is None:
        return None
    top = sections[loudest]
    softer = [one for one in sections if one.loudness_db <= top.loudness_db - SAME_LOUDNESS_DB]
    if not softer:
        return None
    rise_db = top.loudness_db - _mean_loudness_db(softer)
    return (top.name, rise_db) if rise_db >= LEAST_RISE_DB else None


def levels_in(section: Section, sections: Sequence[Section], whole: AnyLevels) -> AnyLevels:
    """Return the levels of one section of a part, from those over all its sections: levels_over turned round."""
    peak_db = max(one.loudness_db for one in sections)
    return whole.shifted(
        peak_db=section.loudness_db - peak_db,
        typical_db=section.loudness_db - _mean_loudness_db(sections),
        quiet_db=section.loudness_db - min(one.loudness_db for one in sections),
    )


def levels_over(sections: Sequence[Section], levels: AnyLevels) -> AnyLevels:
    """Return a part's levels over all its sections.

    The peak is the loudest section's, the quiet phrase the softest's, and the typical level the energy mean over the
    bars. Without sections the levels stay as they are.
    """
    if not sections:
        return levels
    return levels.shifted(
        peak_db=max(one.loudness_db for one in sections),
        typical_db=_mean_loudness_db(sections),
        quiet_db=min(one.loudness_db for one in sections),
    )


def _mean_loudness_db(sections: Sequence[Section]) -> float:
    """Return the energy mean over the bars."""
    energy = sum(one.bars * 10 ** (one.loudness_db / 10) for one in sections) / sum(one.bars for one in sections)
    return 10 * math.log10(energy)
