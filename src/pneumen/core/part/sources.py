"""Sources by name: level at 1 m, crest, quiet phrases, and the distances they are recorded from."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from pneumen.core.errors import UnknownName
from pneumen.core.setup import SourceLevels

LOUDNESSES: Final = ("soft", "medium", "loud", "unknown")
GUESS_BAND_DB: Final = 5.0
"""How far a textbook level may lie from a given performer (physics: every such input is a guess of +-5 dB)."""
UNKNOWN_BAND_DB: Final = 7.0
"""The same where even the loudness is not known: the whole range from soft to loud (estimate)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Source:
    """A kind of source: rms_at_1m_db soft, medium and loud while sounding; crest_db a sine with its peak over that."""

    label: str
    phrase: str
    performer: str
    rms_at_1m_db: tuple[float, float, float]
    crest_db: float
    quiet_below_db: float
    nearest_m: float
    usual_m: float
    farthest_m: float
    pops: bool
    loudness_words: tuple[str, str, str]
    origin: str


@dataclass(frozen=True, slots=True, kw_only=True)
class GuessedLevels:
    """A source's levels at 1 m with the band of the guess and where it comes from."""

    levels: SourceLevels
    band_db: float
    origin: str


_SPEECH = "ANSI S3.5 speech levels, from memory"
_TEXTBOOK = "textbook range, from memory"
_ESTIMATE = "estimate"

SOURCES: Final[Mapping[str, Source]] = {
    "voice": Source(
        label="Voice",
        phrase="the loudest chorus",
        performer="singer",
        rms_at_1m_db=(70, 85, 95),
        crest_db=11,
        quiet_below_db=13,
        nearest_m=0.05,
        usual_m=0.18,
        farthest_m=0.60,
        pops=True,
        loudness_words=("sung softly", "sung out, as in pop", "belted"),
        origin=_TEXTBOOK,
    ),
    "spoken-word": Source(
        label="Spoken word",
        phrase="the loudest sentence",
        performer="speaker",
        rms_at_1m_db=(62, 68, 75),
        crest_db=11,
        quiet_below_db=9,
        nearest_m=0.05,
        usual_m=0.18,
        farthest_m=0.60,
        pops=True,
        loudness_words=("normal voice", "raised voice", "loud voice"),
        origin=_SPEECH,
    ),
    "acoustic-guitar": Source(
        label="Acoustic guitar",
        phrase="the hardest strum",
        performer="guitarist",
        rms_at_1m_db=(70, 77, 85),
        crest_db=15,
        quiet_below_db=12,
        nearest_m=0.12,
        usual_m=0.22,
        farthest_m=0.90,
        pops=False,
        loudness_words=("fingers, quietly", "picked", "strummed hard"),
        origin=_TEXTBOOK,
    ),
    "lever-harp": Source(
        label="Lever harp",
        phrase="the fullest chord",
        performer="harpist",
        rms_at_1m_db=(64, 71, 78),
        crest_db=15,
        quiet_below_db=12,
        nearest_m=0.20,
        usual_m=0.40,
        farthest_m=1.20,
        pops=False,
        loudness_words=("gently plucked", "played out", "full chords"),
        origin=_ESTIMATE,
    ),
    "clarinet": Source(
        label="Clarinet",
        phrase="the loudest note",
        performer="clarinettist",
        rms_at_1m_db=(70, 80, 90),
        crest_db=8,
        quiet_below_db=14,
        nearest_m=0.25,
        usual_m=0.50,
        farthest_m=1.50,
        pops=False,
        loudness_words=("soft, low notes", "played out", "high and full"),
        origin=_ESTIMATE,
    ),
    "hand-drum": Source(
        label="Hand drum",
        phrase="the hardest stroke",
        performer="drummer",
        rms_at_1m_db=(80, 87, 95),
        crest_db=18,
        quiet_below_db=12,
        nearest_m=0.25,
        usual_m=0.60,
        farthest_m=1.50,
        pops=False,
        loudness_words=("fingertips", "played out", "full strokes"),
        origin=_TEXTBOOK,
    ),
}


def guessed_levels(source: str, loudness: str) -> GuessedLevels:
    """Return what a source is expected to put out at 1 m, before anything was measured.

    Args:
        source: a key of SOURCES.
        loudness: one of LOUDNESSES; "unknown" takes the middle with a wider band.

    Raises:
        UnknownName: for a source or loudness no table holds.

    >>> guessed_levels("voice", "medium").levels.typical_db_spl
    85.0
    """
    if source not in SOURCES:
        raise UnknownName("source", source, tuple(SOURCES))
    if loudness not in LOUDNESSES:
        raise UnknownName("loudness", loudness, LOUDNESSES)
    known = SOURCES[source]
    unknown = loudness == "unknown"
    typical = float(known.rms_at_1m_db[1 if unknown else LOUDNESSES.index(loudness)])
    levels = SourceLevels(
        peak_db_spl=typical + known.crest_db,
        typical_db_spl=typical,
        quiet_db_spl=typical - known.quiet_below_db,
        at_m=1.0,
    )
    return GuessedLevels(levels=levels, band_db=UNKNOWN_BAND_DB if unknown else GUESS_BAND_DB, origin=known.origin)
