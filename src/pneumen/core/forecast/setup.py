"""A part in its setup: everything that decides how it will sound, in one frozen value."""

from dataclasses import dataclass, replace
from typing import Any, Final

from pneumen.core.errors import Contradiction, require_within
from pneumen.core.gain import School
from pneumen.core.gear import directivity_index_db
from pneumen.core.part import Source
from pneumen.core.place import Placement, Zone
from pneumen.core.room import MOST_SOURCE_FACTOR, Room, Space, recorded_factor
from pneumen.core.setup import Chain, InTheAir, LineSetup, PluggedChain, PlugLevels, SourceLevels

LOUDEST_ROOM_DBA: Final = 140.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Performance:
    """How loud the source is as far as is believed, and how far that may be off.

    from_take tells whether a take taught it, absolute whether that holds for any chain; sheets_count whether the
    chain's data sheets still leave a doubt. known_gain_db is the gain of a bare knob at which the level was learnt.
    """

    levels: SourceLevels | PlugLevels
    band_db: float
    from_take: bool = False
    absolute: bool = False
    sheets_count: bool = True
    known_gain_db: float | None = None

    def __post_init__(self) -> None:
        require_within("band_db", self.band_db, 0, 40)


@dataclass(frozen=True, slots=True, kw_only=True)
class PartSetup:
    """A part as it is set up: source, room, placement, chain and gain; what is plugged in has no use for a placement.

    space is a room with its walls, or statistics alone where the command line knows no more. zone limits the
    distances to those of one spot of the instrument; role says whether the part leads. planned names what nobody set
    ("distance", "gain"): it follows whatever else changes.
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
    def source_factor(self) -> float:
        """The source's directivity factor, within what a first-order pattern can have."""
        return min(max(self.source.directivity_factor, 1.0), MOST_SOURCE_FACTOR)

    @property
    def recorded_factor(self) -> float:
        """The directivity factor towards the microphone."""
        return recorded_factor(self.source_factor, backwards=self.source.radiates_back)

    @property
    def drawn_space(self) -> Space:
        """The room with its walls and what is in it.

        Raises:
            Contradiction: where only its statistics are known.
        """
        if not isinstance(self.space, Space):
            raise Contradiction("space", "is known by its statistics only")
        return self.space

    def moved(self, **changes: Any) -> "PartSetup":
        """Return the same part with its microphone or performer elsewhere: fields of Placement."""
        return replace(self, placement=replace(self.placement, **changes))

    def line(self, noise_dba: float) -> LineSetup:
        """Return the document of `line`.

        Args:
            noise_dba: the noise at the microphone, after its pattern; the document tells it as diffuse noise.
        """
        chain, levels = self.chain, self.performance.levels
        if isinstance(chain, PluggedChain) and isinstance(levels, PlugLevels):
            return chain.plugged(source=levels, gain_db=self.gain_db)
        if isinstance(chain, PluggedChain) or isinstance(levels, PlugLevels):
            raise Contradiction("levels", "and chain must both be of a plug, or both of a microphone")
        air = InTheAir(
            source=levels,
            room_noise_dba=min(noise_dba + directivity_index_db(self.pattern), LOUDEST_ROOM_DBA),
            distance_m=self.placement.distance_m,
            off_axis_deg=abs(self.placement.turned_deg),
        )
        return chain.setup(air, self.gain_db)
