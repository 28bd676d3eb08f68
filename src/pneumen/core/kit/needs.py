"""What a kit is for: parts, room, money, what is owned, and which gear must or must not be in it."""

import math
from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Final

from pneumen.core.errors import Contradiction, OutOfRange, UnknownName, require_positive, require_within
from pneumen.core.forecast import PartSetup, PatternPlace, Performance, boundless_chain, place_for_pattern
from pneumen.core.gain import SCHOOLS
from pneumen.core.gear import PATTERNS
from pneumen.core.kit.enough import ENOUGH, Enough
from pneumen.core.kit.item import DEAREST
from pneumen.core.kit.kinds import SYSTEMS, TONES
from pneumen.core.kit.leads import CABLE_M, SHOP_LENGTHS_M
from pneumen.core.part import GUESS_BAND_DB, Source, guessed_levels, source_named, with_spectrum
from pneumen.core.place import USUAL_PAIR, Placement
from pneumen.core.room import Room
from pneumen.core.setup import PlugLevels, SourceLevels

ROUTES: Final = ("any", "usb", "interface", "recorder")
COMPUTERS: Final = ("", *SYSTEMS, "none")
MOST_PARTS: Final = 8
AIM_DBFS: Final = -9.0
BOX_SHAPE_SURFACE: Final = 2 * (1.27 * 1.13 + 1.27 * 0.7 + 1.13 * 0.7)
BOX_SHAPE_WALLS: Final = 2 * (1.27 + 1.13) * 0.7
"""Surface, walls over volume to the two thirds, of a room a little longer than wide (1.27 : 1.13 : 0.7; estimate)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class PartNeed:
    """One part: its source, its levels in the air or at its plug, and where each pattern would stand for it.

    Parts of one session are recorded together; without one the needs' inputs_at_once decides. aim_dbfs is where its
    loudest peak is brought, band_db how far the peak may be off. channels is 2 where it is recorded in stereo: with two
    microphones of one model, or from both outputs. wished_channels tells what was wished for where nothing within reach
    records that many. instrument_price is what a plugged instrument cost, None where it is not told.
    """

    source: Source
    levels: SourceLevels | PlugLevels
    places: tuple[PatternPlace, ...] = ()
    session: int | None = None
    aim_dbfs: float = AIM_DBFS
    band_db: float = GUESS_BAND_DB
    channels: int = 1
    wished_channels: int = 1
    instrument_price: float | None = None

    def __post_init__(self) -> None:
        require_within("channels", self.channels, 1, 2)
        require_within("instrument_price", self.instrument_price or 0.0, 0, DEAREST)
        if isinstance(self.levels, PlugLevels) != (self.source.direct is not None):
            raise Contradiction("levels", "must be those of a plug for a direct source, in the air for any other")
        if self.source.direct is None and {one.pattern for one in self.places} != set(PATTERNS):
            raise Contradiction("places", "must tell where each pattern stands, for what is miked")

    def in_mono(self) -> "PartNeed":
        """Return the same part on one channel, its wish for two kept in mind."""
        return replace(self, channels=1, wished_channels=max(self.channels, self.wished_channels))

    def place(self, pattern: str) -> PatternPlace:
        """Return where a microphone of a pattern stands for this part."""
        return next(one for one in self.places if one.pattern == pattern)

    @property
    def is_plugged(self) -> bool:
        return self.source.direct is not None

    @property
    def miked_levels(self) -> SourceLevels:
        """Its levels in the air.

        Raises:
            Contradiction: for what is plugged in.
        """
        if not isinstance(self.levels, SourceLevels):
            raise Contradiction("levels", "are those of a plug")
        return self.levels

    @property
    def plug_levels(self) -> PlugLevels:
        """Its levels at the plug.

        Raises:
            Contradiction: for what stands before a microphone.
        """
        if not isinstance(self.levels, PlugLevels):
            raise Contradiction("levels", "are those in the air")
        return self.levels


@dataclass(frozen=True, slots=True, kw_only=True)
class RoomNeed:
    """The room as it is: noise, reverberation time and volume."""

    noise_dba: float
    rt60_s: float
    volume_m3: float

    def __post_init__(self) -> None:
        require_within("room_noise_dba", self.noise_dba, -20, 140)
        require_positive("rt60_s", self.rt60_s, 20)
        require_positive("room_volume_m3", self.volume_m3, 20_000)

    @property
    def surface_m2(self) -> float:
        return BOX_SHAPE_SURFACE * self.volume_m3 ** (2 / 3)

    @property
    def walls_m2(self) -> float:
        return BOX_SHAPE_WALLS * self.volume_m3 ** (2 / 3)

    @property
    def mean_absorption(self) -> float:
        """The mean coefficient that Eyring's formula asks for this reverberation time."""
        return 1 - math.exp(-0.161 * self.volume_m3 / (self.surface_m2 * self.rt60_s))

    def as_room(self) -> Room:
        return Room(volume_m3=self.volume_m3, rt60_s=self.rt60_s, noise_dba=self.noise_dba, noise_band_db=5.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class Needs:
    """What the kit is for. budget is in whatever currency the prices are in.

    inputs_at_once says how many parts are recorded together, in their order; must and never hold ids; renting leaves
    out what has to be glued. A tone leaves out microphones that say they are of another. take_handling asks for
    software that keeps takes; without monthly_fees it must be free or paid once. What is lent to others has to stand
    rough hands: microphones that do not are left out, unless owned. overload_spared leaves out what may
    clip within a part's band.
    """

    parts: tuple[PartNeed, ...]
    room: RoomNeed
    budget: float = DEAREST
    inputs_at_once: int = 1
    computer: str = ""
    computer_speed: str = "laptop"
    sample_rate_hz: int = 48_000
    monitors: bool = False
    standing: bool = True
    renting: bool = True
    route: str = "any"
    cable_m: float = CABLE_M
    buffer: int | None = None
    must: frozenset[str] = frozenset()
    never: frozenset[str] = frozenset()
    tone: str = ""
    take_handling: bool = False
    monthly_fees: bool = True
    enough: Enough = ENOUGH
    lent: bool = False
    overload_spared: bool = False

    def __post_init__(self) -> None:
        if not 1 <= len(self.parts) <= MOST_PARTS:
            raise OutOfRange("parts", len(self.parts), f"1 to {MOST_PARTS}")
        require_within("budget", self.budget, 0, DEAREST)
        require_within("inputs_at_once", self.inputs_at_once, 1, 64)
        require_within("cable_m", self.cable_m, CABLE_M, SHOP_LENGTHS_M[-1])
        for field, value, table in (
            ("route", self.route, ROUTES),
            ("computer", self.computer, COMPUTERS),
            ("tone", self.tone, ("", *TONES)),
        ):
            if value not in table:
                raise UnknownName(field, value, tuple(word for word in table if word))
        if self.must & self.never:
            raise Contradiction("must", f"and never both hold {sorted(self.must & self.never)[0]}")

    @property
    def tracks(self) -> int:
        """How many tracks the recording needs: one for each channel of each part, and one for the backing."""
        return sum(part.channels for part in self.parts) + 1

    @property
    def enough_figures(self) -> tuple[float, float]:
        """The clean range and the direct-to-room ratio that are enough for every part."""
        leads = [self.enough.lead_db(part.source) for part in self.parts if not part.is_plugged]
        return self.enough.clean_range_db, max(leads, default=0.0)

    @property
    def plugged(self) -> frozenset[int]:
        """Numbers of the parts that are plugged in, not miked."""
        return frozenset(number for number, part in enumerate(self.parts) if part.is_plugged)

    @property
    def most_at_once(self) -> int:
        """How many parts are recorded at the same time."""
        return max(self.inputs_at_once, *(len(session) for session in self.sessions))

    @property
    def most_inputs(self) -> int:
        """How many inputs are used at the same time."""
        return max(self.most_at_once, *(self.channels_of(session) for session in self.sessions))

    def channels_of(self, parts: Iterable[int]) -> int:
        """Return how many channels some parts fill together."""
        return sum(self.parts[number].channels for number in parts)

    def channels_for(self, parts: Iterable[int]) -> int:
        """Return how many microphones or plugs a voice needs that serves some parts, one after the other."""
        return max(self.parts[number].channels for number in parts)

    @property
    def sessions(self) -> tuple[tuple[int, ...], ...]:
        """Indices of the parts recorded together: as they say, else in their order, as many as are asked for."""
        numbers = range(len(self.parts))
        if all(part.session is not None for part in self.parts):
            wanted = dict.fromkeys(part.session for part in self.parts)
            return tuple(tuple(n for n in numbers if self.parts[n].session == one) for one in wanted)
        return tuple(tuple(numbers[start : start + self.inputs_at_once]) for start in numbers[:: self.inputs_at_once])


def part_need(
    source_slug: str,
    room: RoomNeed,
    *,
    loudness: str = "medium",
    levels: SourceLevels | PlugLevels | None = None,
    distance_m: float | None = None,
    session: int | None = None,
    stereo: bool = False,
    instrument_price: float | None = None,
) -> PartNeed:
    """Return a part of the library's source, at levels known or guessed, each pattern where the room would have it.

    Args:
        distance_m: the same for all patterns, where it is told.
        stereo: with two microphones, each turned outwards as a pair is, or from both outputs.

    Raises:
        UnknownName: for a source or loudness no table holds.
    """
    source = source_named(source_slug)
    guess = guessed_levels(source_slug, loudness)
    known, band_db = (guess.levels, guess.band_db) if levels is None else (levels, GUESS_BAND_DB)
    known = with_spectrum(known, source)
    outwards_deg = USUAL_PAIR.outwards_deg if stereo else 0.0
    places = () if source.direct else _places(source, known, room.as_room(), distance_m, outwards_deg)
    channels = 2 if stereo else 1
    return PartNeed(
        source=source,
        levels=known,
        places=places,
        session=session,
        band_db=band_db,
        channels=channels,
        instrument_price=instrument_price,
    )


@lru_cache(maxsize=256)
def _places(
    source: Source, levels: SourceLevels, room: Room, distance_m: float | None, outwards_deg: float
) -> tuple[PatternPlace, ...]:
    if distance_m is not None:
        source = replace(source, nearest_m=distance_m, usual_m=distance_m, farthest_m=distance_m)
    setup = PartSetup(
        source=source,
        performance=Performance(levels=levels, band_db=0),
        space=room,
        placement=Placement(x_m=0, y_m=0, distance_m=source.usual_m, pop_screen=source.pops, turned_deg=outwards_deg),
        chain=boundless_chain("cardioid"),
        school=SCHOOLS[0],
    )
    return places_of(levels, setup)


def places_of(levels: SourceLevels, setup: PartSetup) -> tuple[PatternPlace, ...]:
    """Return where each pattern would stand for a part, at levels that hold for any chain."""
    plain = replace(
        setup,
        performance=Performance(levels=levels, band_db=0),
        chain=boundless_chain("cardioid"),
        school=SCHOOLS[0],
        gain_db=0.0,
        round_trip_ms=None,
    )
    return _for_each_pattern(plain)


@lru_cache(maxsize=128)
def _for_each_pattern(setup: PartSetup) -> tuple[PatternPlace, ...]:
    return tuple(place_for_pattern(setup, pattern) for pattern in PATTERNS)
