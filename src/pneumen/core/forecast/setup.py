"""A part in its setup: everything that decides how it will sound, in one frozen value."""

import math
from dataclasses import dataclass, replace
from typing import Any, Final

from pneumen.core.errors import Contradiction, given, require_within
from pneumen.core.gain import KNOB_BAND, UNKNOWN_START_DB, School
from pneumen.core.gear import GRILLE_M, directivity_index_db
from pneumen.core.levels import band_of_sum_db
from pneumen.core.line import Levels
from pneumen.core.part import Source
from pneumen.core.place import Placement, StereoPair, Zone
from pneumen.core.room import MOST_SOURCE_FACTOR, Room, Space, recorded_factor
from pneumen.core.setup import Chain, InTheAir, LineSetup, PluggedChain, PlugLevels, SourceLevels, UsbChain, XlrChain

LOUDEST_ROOM_DBA: Final = 140.0
HALF_A_STEP_DB: Final = 0.5
"""By so much a gain in whole decibels may miss its aim."""


def source_factor_of(source: Source) -> float:
    """Return a source's directivity factor, within what a first-order pattern can have."""
    return min(max(source.directivity_factor, 1.0), MOST_SOURCE_FACTOR)


@dataclass(frozen=True, slots=True, kw_only=True)
class Heard:
    """What a microphone hears of a room: the direct sound over it, by octave and weighted for speech, and the noise in
    dBA after its pattern."""

    lead_db: float
    lead_by_band_db: tuple[float, ...]
    noise_dba: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Performance:
    """How loud the source is as far as is believed, and how far that may be off.

    from_take tells whether a take taught it, absolute whether that holds for any chain; sheets_count whether the
    chain's data sheets still leave a doubt. known_gain_db and known_distance_m are the gain of a bare knob and the
    distance at which the level was learnt: only what differs from them is in doubt.
    """

    levels: SourceLevels | PlugLevels
    band_db: float
    from_take: bool = False
    absolute: bool = False
    sheets_count: bool = True
    known_gain_db: float | None = None
    known_distance_m: float | None = None

    def __post_init__(self) -> None:
        require_within("band_db", self.band_db, 0, 40)


@dataclass(frozen=True, slots=True, kw_only=True)
class PartSetup:
    """A part as it is set up: source, room, placement, chain and gain; what is plugged in has no use for a placement.

    space is a room with its walls, or statistics alone where the command line knows no more. zone limits the
    distances to those of one spot of the instrument; role says whether the part leads. capsule_doubt_m is how far the
    capsule may lie behind the point measured to. pair is set where two microphones stand for one: each of them is what
    the placement says, turned outwards. planned names what nobody set ("distance", "gain"): it follows
    whatever else changes.
    """

    source: Source
    performance: Performance
    space: Space | Room
    placement: Placement
    chain: Chain
    school: School
    gain_db: float = 0.0
    role: str = "lead"
    zone: Zone | None = None
    round_trip_ms: float | None = None
    capsule_doubt_m: float = GRILLE_M
    pair: StereoPair | None = None
    planned: frozenset[str] = frozenset()

    def __post_init__(self) -> None:
        if isinstance(self.chain, PluggedChain) != (self.source.direct is not None):
            raise Contradiction("chain", "must be a plug's for a direct source, a microphone's for any other")
        if isinstance(self.performance.levels, PlugLevels) != (self.source.direct is not None):
            raise Contradiction("levels", "must be those of a plug for a direct source, in the air for any other")

    @property
    def is_plugged(self) -> bool:
        return isinstance(self.chain, PluggedChain)

    @property
    def pattern(self) -> str:
        """The microphone's pattern; a plug has none, its room is shown as a cardioid would hear it."""
        return "cardioid" if isinstance(self.chain, PluggedChain) else self.chain.pattern

    @property
    def booster_db(self) -> float:
        """What an inline booster adds, which the level diagram counts to the microphone; 0 without one."""
        return self.chain.booster_db if isinstance(self.chain, XlrChain) else 0.0

    @property
    def source_factor(self) -> float:
        """The source's directivity factor, within what a first-order pattern can have."""
        return source_factor_of(self.source)

    @property
    def recorded_factor(self) -> float:
        """The directivity factor towards the microphone."""
        return recorded_factor(self.source_factor, backwards=self.source.radiates_back)

    @property
    def fits_its_room(self) -> bool:
        """Whether source and player fit on the floor; True where only the room's statistics are known."""
        return not isinstance(self.space, Space) or self.source.fits(self.space.box.size_m)

    @property
    def drawn_space(self) -> Space:
        """The room with its walls and what is in it.

        Raises:
            Contradiction: where only its statistics are known.
        """
        if not isinstance(self.space, Space):
            raise Contradiction("space", "is known by its statistics only")
        return self.space

    @property
    def sheet_band_db(self) -> float:
        """What the chain's data sheets leave open; nothing where its level was learnt with it."""
        return self.chain.sheet_band_db if self.performance.sheets_count else 0.0

    @property
    def gain_band_db(self) -> float:
        """A bare knob's gain is a guess, after a take only the turn since then; a map leaves its own error."""
        if self.chain.gain_marking != "bare":
            return 0.0
        low, high = self.chain.gain_range_db
        taper, known_db = self.chain.taper, self.performance.known_gain_db
        if taper is not None:
            return taper.error_db if known_db is not None else math.hypot(taper.error_db, UNKNOWN_START_DB)
        return KNOB_BAND * ((high - low) / 2 if known_db is None else abs(self.gain_db - known_db))

    @property
    def distance_band_db(self) -> float:
        """What measuring to grille or capsule leaves open; after a take, only what the move since then does."""
        return self.distance_band_at(self.placement.distance_m)

    def distance_band_at(self, distance_m: float) -> float:
        """Return the band of a distance, in dB, were the microphone there."""
        if self.is_plugged:
            return 0.0
        known_m = self.performance.known_distance_m
        there = self._grille_db(distance_m)
        return there if known_m is None else abs(there - self._grille_db(known_m))

    def _grille_db(self, distance_m: float) -> float:
        return 20 * math.log10(1 + self.capsule_doubt_m / distance_m)

    @property
    def signal_band_db(self) -> float:
        """How far the level in the file may be off."""
        return self.signal_band_at(self.placement.distance_m)

    def signal_band_at(self, distance_m: float) -> float:
        """Return how far the level in the file may be off, in dB, were the microphone at a distance."""
        distance_band_db = self.distance_band_at(distance_m)
        return band_of_sum_db(self.performance.band_db, self.sheet_band_db, self.gain_band_db, distance_band_db)

    @property
    def microphone_band_db(self) -> float:
        """How far the source may be off where it meets the microphone's ceiling; a USB microphone's is full scale."""
        return self.microphone_band_at(self.placement.distance_m)

    def microphone_band_at(self, distance_m: float) -> float:
        """Return the band at the microphone's ceiling, in dB, were the microphone at a distance."""
        if self.performance.from_take:
            return 0.0
        if isinstance(self.chain, UsbChain):
            return self.signal_band_at(distance_m)
        return band_of_sum_db(self.performance.band_db, self.distance_band_at(distance_m))

    @property
    def aim_dbfs(self) -> float:
        """Where the loudest peak is to land: the school's middle; before a take so low that its whole band fits."""
        return self.aim_at(self.placement.distance_m)

    def aim_at(self, distance_m: float) -> float:
        """Return where the loudest peak is to land, in dBFS, were the microphone at a distance."""
        if self.performance.from_take:
            return self.school.aim_dbfs
        return min(self.school.aim_dbfs, -self.signal_band_at(distance_m) - HALF_A_STEP_DB)

    def spare_db(self, levels: Levels) -> float:
        """Return the least headroom that is left where everything is as loud as it may be; after a take, as it was."""
        if self.performance.from_take:
            return levels.headroom_db
        return min(
            ceiling - levels.peak_dbfs - (self.microphone_band_db if stage == "microphone" else self.signal_band_db)
            for stage, ceiling in levels.ceilings_dbfs.items()
        )

    def moved(self, **changes: Any) -> "PartSetup":
        """Return the same part with its microphone or performer elsewhere: fields of Placement."""
        return replace(self, placement=replace(self.placement, **changes))

    def line(self, heard: Heard | None = None) -> LineSetup:
        """Return the document of `line`.

        Args:
            heard: what the microphone hears of the room, its noise told as diffuse noise; None for a plug.
        """
        chain, levels = self.chain, self.performance.levels
        if isinstance(chain, PluggedChain) and isinstance(levels, PlugLevels):
            return chain.plugged(source=levels, gain_db=self.gain_db)
        if isinstance(chain, PluggedChain) or isinstance(levels, PlugLevels):
            raise Contradiction("levels", "and chain must both be of a plug, or both of a microphone")
        heard = given("heard", heard)
        air = InTheAir(
            source=levels,
            room_noise_dba=min(heard.noise_dba + directivity_index_db(self.pattern), LOUDEST_ROOM_DBA),
            distance_m=self.placement.distance_m,
            off_axis_deg=abs(self.placement.turned_deg),
            low_cut_hz=self.placement.low_cut_hz,
            extent_m=self.source.extent_m,
            direct_to_reverberant_db=heard.lead_db,
            rt60_s=self.space.rt60_s or None,
        )
        return chain.setup(air, self.gain_db)
