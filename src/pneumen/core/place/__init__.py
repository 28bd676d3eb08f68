"""Where the microphone stands: the distance to start from, what closeness does to the tone."""

from pneumen.core.place.proximity import THIRD_OCTAVES_HZ, Response, proximity_db, response_at
from pneumen.core.place.start import SWAY_M, StartingDistance, starting_distance, sway_db

__all__ = [
    "SWAY_M",
    "THIRD_OCTAVES_HZ",
    "Response",
    "StartingDistance",
    "proximity_db",
    "response_at",
    "starting_distance",
    "sway_db",
]
