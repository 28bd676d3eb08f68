"""A room as it is recorded in: its box, what stands in it, what sounds in and around it, and at which hour."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from pneumen.core.errors import require_within
from pneumen.core.room.box import Box, Point
from pneumen.core.room.furnishing import Placed
from pneumen.core.room.noise import Noise, noise_at
from pneumen.core.room.reverberation import middle_rt60_s

MOST_CHANGE_DB = 80.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Space:
    """Everything of a room that reaches a take.

    background_dba is the diffuse noise from all around, noise_band_db how far the noise may lie from what is believed,
    noise_change_db what takes taught or tidying brought since (quietened tells whether it was tidied).
    """

    box: Box
    background_dba: float
    noise_band_db: float
    furniture: tuple[Placed, ...] = ()
    noises: tuple[Noise, ...] = ()
    hour: float = 20.0
    noise_change_db: float = 0.0
    quietened: bool = False

    def __post_init__(self) -> None:
        require_within("background_dba", self.background_dba, -20, 140)
        require_within("noise_band_db", self.noise_band_db, 0, 40)
        require_within("hour", self.hour, 0, 24)
        require_within("noise_change_db", self.noise_change_db, -MOST_CHANGE_DB, MOST_CHANGE_DB)

    @property
    def volume_m3(self) -> float:
        return self.box.volume_m3

    @property
    def rt60_s(self) -> float | None:
        """The reverberation time, the mean of 500 Hz and 1 kHz; None where everything is absorbed, or nothing."""
        return middle_rt60_s(self.box)

    def noise_dba_at(self, microphone_m: Point, axis: Sequence[float], pattern: str) -> float:
        """Return the noise at a microphone that points along an axis, in dBA."""
        heard = noise_at(
            self.box,
            self.noises,
            microphone_m,
            axis,
            pattern,
            hour=self.hour,
            background_dba=self.background_dba,
        )
        return heard + self.noise_change_db

    def at_hour(self, hour: float) -> "Space":
        return replace(self, hour=hour)
