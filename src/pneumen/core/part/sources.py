"""Sources by name: level at 1 m or at the plug, crest, quiet phrases, spectrum, and where they are recorded from."""

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cache
from importlib.resources import files
from types import MappingProxyType
from typing import Final

import msgspec

from pneumen.core.errors import Contradiction, UnknownName
from pneumen.core.setup import OCTAVES_HZ, PlugLevels, SourceLevels

LOUDNESSES: Final = ("soft", "medium", "loud", "unknown")
GUESS_BAND_DB: Final = 5.0
"""How far a textbook level may lie from a given performer (physics: every such input is a guess of +-5 dB)."""
FORMATS: Final = ("mono", "stereo")
"""On how many channels a part is recorded: one, or two."""
UNKNOWN_BAND_DB: Final = 7.0
"""The same where even the loudness is not known: the whole range from soft to loud (estimate)."""
GROUPS: Final[Mapping[str, str]] = MappingProxyType(
    {
        "voice": "Voices",
        "plucked": "Plucked strings",
        "bowed": "Bowed strings",
        "winds": "Winds and horns",
        "keys": "Piano and accordion",
        "percussion": "Percussion",
        "amp": "Amplifiers",
        "direct": "Straight from the plug",
    }
)
MUCH_DB: Final = -6.0
TRANSIENTS: Final = ("soft", "fast", "sharp")


@dataclass(frozen=True, slots=True, kw_only=True)
class DirectOutput:
    """What comes out of an instrument's plug: rms_dbu soft, medium and loud while sounding, and its own noise (A)."""

    rms_dbu: tuple[float, float, float]
    output_ohm: float
    passive: bool
    noise_dbu: float
    instrument_price: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Source:
    """A kind of source: rms_at_1m_db soft, medium and loud while sounding; crest_db a sine with its peak over that.

    octave_spectrum_db is relative to the strongest of OCTAVES_HZ, lowest_note_hz what it plays lowest;
    directivity_factor is on the axis it is recorded from, or behind the player where radiates_back, whose bell points
    there. extent_m is half the width of what sounds (estimates), moves whether it sways with its player. dry_enough_db
    is how far the direct sound has to stand over the room's: less where the room belongs to the sound (common practice,
    no source). often_stereo tells that it is often recorded on two channels, being wide or of two outputs. direct is
    set where it is plugged in and not miked, and its distances are then of no account. floor_m is the floor that it and
    whoever plays it take up (estimates).
    """

    slug: str
    label: str
    group: str
    phrase: str
    performer: str
    crest_db: float
    quiet_below_db: float
    loudness_words: tuple[str, str, str]
    octave_spectrum_db: tuple[float, float, float, float, float, float, float, float]
    transient: str
    origin: str
    rms_at_1m_db: tuple[float, float, float] = (0.0, 0.0, 0.0)
    lowest_note_hz: float = 60.0
    nearest_m: float = 0.05
    usual_m: float = 0.2
    farthest_m: float = 1.0
    directivity_factor: float = 1.0
    pops: bool = False
    harsh: bool = False
    radiates_back: bool = False
    extent_m: float = 0.0
    moves: bool = True
    dry_enough_db: float = 10.0
    often_stereo: bool = False
    floor_m: tuple[float, float] = (0.9, 0.9)
    direct: DirectOutput | None = None

    @property
    def may_be_driven(self) -> bool:
        """Whether it may be distorted on purpose, as an amplifier is."""
        return self.group == "amp"

    @property
    def volume_is_level(self) -> bool:
        """Whether the instrument's own volume only sets its level; a guitar's is tone, and stays as it sounds right."""
        return self.slug == "keyboard"

    def fits(self, size_m: tuple[float, float, float]) -> bool:
        """Tell whether it and its player fit on the floor of a room, either way round, were it empty.

        What is plugged in may be played anywhere.
        """
        sides = zip(sorted(self.floor_m), sorted(size_m[:2]), strict=True)
        return self.direct is not None or all(mine <= there for mine, there in sides)

    @property
    def is_passive(self) -> bool:
        """Whether it is a pickup without electronics, which an input must not load down."""
        return self.direct is not None and self.direct.passive

    @property
    def lowest_hz(self) -> float:
        """The lower edge of the lowest octave in which it has much: within 6 dB of its strongest."""
        strong = next(hz for hz, db in zip(OCTAVES_HZ, self.octave_spectrum_db, strict=True) if db >= MUCH_DB)
        return strong / math.sqrt(2)

    def __post_init__(self) -> None:
        for field, value, table in (("group", self.group, GROUPS), ("transient", self.transient, TRANSIENTS)):
            if value not in table:
                raise UnknownName(field, value, tuple(table))
        if (self.group == "direct") != (self.direct is not None):
            raise Contradiction("direct", "goes with the group direct, and with no other")


@dataclass(frozen=True, slots=True, kw_only=True)
class GuessedLevels:
    """A source's levels, at 1 m or at its plug, with the band of the guess and where it comes from."""

    levels: SourceLevels | PlugLevels
    band_db: float
    origin: str


@dataclass(frozen=True, slots=True, kw_only=True)
class _Library:
    sources: tuple[Source, ...]


@cache
def _library() -> Mapping[str, Source]:
    document = files("pneumen.core.data").joinpath("sources.json").read_bytes()
    return MappingProxyType({one.slug: one for one in msgspec.json.decode(document, type=_Library).sources})


SOURCES: Final[Mapping[str, Source]] = _library()
MIKED_SOURCES: Final[Mapping[str, Source]] = MappingProxyType(
    {slug: source for slug, source in SOURCES.items() if source.direct is None}
)


def source_named(slug: str) -> Source:
    """Return a source of the library.

    Raises:
        UnknownName: naming the sources there are.
    """
    if slug not in SOURCES:
        raise UnknownName("source", slug, tuple(SOURCES))
    return SOURCES[slug]


def guessed_levels(source: str, loudness: str) -> GuessedLevels:
    """Return what a source is expected to put out at 1 m, or at its plug, before anything was measured.

    Args:
        source: a key of SOURCES.
        loudness: one of LOUDNESSES; "unknown" takes the middle with a wider band.

    Raises:
        UnknownName: for a source or loudness no table holds.

    >>> guessed_levels("voice-pop", "medium").levels.typical_db_spl
    80.0
    >>> guessed_levels("keyboard", "loud").levels.typical_dbu
    -2.0
    """
    known, index = source_named(source), _index(loudness)
    levels: SourceLevels | PlugLevels
    if known.direct is None:
        typical = known.rms_at_1m_db[index]
        levels = SourceLevels(
            peak_db_spl=typical + known.crest_db,
            typical_db_spl=typical,
            quiet_db_spl=typical - known.quiet_below_db,
            at_m=1.0,
            octaves_db=known.octave_spectrum_db,
        )
    else:
        typical = known.direct.rms_dbu[index]
        levels = PlugLevels(
            peak_dbu=typical + known.crest_db,
            typical_dbu=typical,
            quiet_dbu=typical - known.quiet_below_db,
            output_ohm=known.direct.output_ohm,
            noise_dbu=known.direct.noise_dbu,
        )
    band_db = UNKNOWN_BAND_DB if loudness == "unknown" else GUESS_BAND_DB
    return GuessedLevels(levels=levels, band_db=band_db, origin=known.origin)


def with_spectrum(levels: SourceLevels | PlugLevels, source: Source) -> SourceLevels | PlugLevels:
    """Return levels with a source's spectrum, where they are of the air and tell none."""
    if isinstance(levels, SourceLevels) and levels.octaves_db is None:
        return replace(levels, octaves_db=source.octave_spectrum_db)
    return levels


def _index(loudness: str) -> int:
    if loudness not in LOUDNESSES:
        raise UnknownName("loudness", loudness, LOUDNESSES)
    return 1 if loudness == "unknown" else LOUDNESSES.index(loudness)
