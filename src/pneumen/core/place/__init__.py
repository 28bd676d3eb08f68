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
    off_axis_deg,
    puff_speed_m_s,
    suited_m,
)
from pneumen.core.place.louder import StepBack, step_back_for
from pneumen.core.place.low_cut import LOW_CUTS_HZ, LowCut, low_cut_db, low_cut_of
from pneumen.core.place.proximity import THIRD_OCTAVES_HZ, Response, proximity_db, response_at
from pneumen.core.place.start import SWAY_M, StartingDistance, starting_distance, sway_db
from pneumen.core.place.zones import BODIES, TASTES, Body, Zone, ZoneHere, body_of, zones_here

__all__ = [
    "BODIES",
    "DISTANCE_SCHOOLS",
    "LIMITS",
    "LOW_CUTS_HZ",
    "SWAY_M",
    "TASTES",
    "THIRD_OCTAVES_HZ",
    "Body",
    "DistanceSchool",
    "Ladder",
    "Limit",
    "LowCut",
    "Placement",
    "Response",
    "StartingDistance",
    "StepBack",
    "Zone",
    "ZoneHere",
    "at_distance",
    "beam_db",
    "body_of",
    "ladder_of",
    "level_along",
    "low_cut_db",
    "low_cut_of",
    "off_axis_deg",
    "proximity_db",
    "puff_speed_m_s",
    "response_at",
    "starting_distance",
    "step_back_for",
    "suited_m",
    "sway_db",
    "zones_here",
]
