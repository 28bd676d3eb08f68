"""Where the microphone stands: where to start, what each distance costs, what closeness does to the tone."""

from pneumen.core.place.ladder import (
    DISTANCE_SCHOOLS,
    LIMITS,
    DistanceSchool,
    Ladder,
    Limit,
    Placement,
    at_distance,
    beam_db,
    ladder_of,
    level_along,
    puff_speed_m_s,
)
from pneumen.core.place.louder import StepBack, step_back_for
from pneumen.core.place.proximity import THIRD_OCTAVES_HZ, Response, proximity_db, response_at
from pneumen.core.place.start import SWAY_M, StartingDistance, starting_distance, sway_db

__all__ = [
    "DISTANCE_SCHOOLS",
    "LIMITS",
    "SWAY_M",
    "THIRD_OCTAVES_HZ",
    "DistanceSchool",
    "Ladder",
    "Limit",
    "Placement",
    "Response",
    "StartingDistance",
    "StepBack",
    "at_distance",
    "beam_db",
    "ladder_of",
    "level_along",
    "proximity_db",
    "puff_speed_m_s",
    "response_at",
    "starting_distance",
    "step_back_for",
    "sway_db",
]
