"""Where the microphone goes to start with."""

from pneumen.core.place.start import SWAY_M, StartingDistance, starting_distance, sway_db

__all__ = ["SWAY_M", "StartingDistance", "starting_distance", "sway_db"]
