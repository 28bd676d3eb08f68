"""What is recorded: sources with their levels, as textbooks give them or as a guess that says so."""

from pneumen.core.part.own_volume import USUAL_VOLUME, own_volume_db
from pneumen.core.part.shape import (
    LEAST_APART_DB,
    ROLES,
    USUAL_SECTIONS,
    Section,
    levels_in,
    levels_over,
    loudest_of,
    rise_of,
)
from pneumen.core.part.sources import (
    FORMATS,
    GROUPS,
    GUESS_BAND_DB,
    LOUDNESSES,
    MIKED_SOURCES,
    OCTAVES_HZ,
    SOURCES,
    DirectOutput,
    GuessedLevels,
    Source,
    guessed_levels,
    source_named,
    with_spectrum,
)
from pneumen.core.part.tempo import FASTEST_BPM, SLOWEST_BPM, Tempo, find_tempo

__all__ = [
    "FASTEST_BPM",
    "FORMATS",
    "GROUPS",
    "GUESS_BAND_DB",
    "LEAST_APART_DB",
    "LOUDNESSES",
    "MIKED_SOURCES",
    "OCTAVES_HZ",
    "ROLES",
    "SLOWEST_BPM",
    "SOURCES",
    "USUAL_SECTIONS",
    "USUAL_VOLUME",
    "DirectOutput",
    "GuessedLevels",
    "Section",
    "Source",
    "Tempo",
    "find_tempo",
    "guessed_levels",
    "levels_in",
    "levels_over",
    "loudest_of",
    "own_volume_db",
    "rise_of",
    "source_named",
    "with_spectrum",
]
