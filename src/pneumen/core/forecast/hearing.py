"""What a microphone hears of the room from where it stands: followed path by path in a drawn room, else statistics."""

import math
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Final

import numpy as np

from pneumen.core.forecast.setup import Heard, PartSetup, source_factor_of
from pneumen.core.gear import directivity_index_db, off_axis_db
from pneumen.core.line import closeness_db, fall_db, room_on_peak_db
from pneumen.core.part import Source
from pneumen.core.place import MOST_RISE, Placement, direction
from pneumen.core.room import (
    FirstEcho,
    Room,
    Space,
    Spot,
    Standing,
    best_spots,
    critical_distance_m,
    direct_to_reverberant_db,
    first_echoes,
    room_sound,
)
from pneumen.core.setup import LineSetup, SourceLevels

MARGIN_M: Final = 0.05
"""No capsule comes nearer to a wall."""
MOUTH_MARGIN_M: Final = 0.15
SPOT_CELLS: Final = 16
LEAST_LEAD_DB: Final = -60.0


def standing_at(setup: PartSetup, distance_m: np.ndarray | None = None) -> Standing:
    """Return the part's place for the images: where it stands, or at several distances at once."""
    placement = setup.placement
    if distance_m is None:
        distance_m = np.array([placement.distance_m])
    rise = np.clip(placement.above_m, -MOST_RISE * distance_m, MOST_RISE * distance_m)
    across = np.sqrt(np.maximum(distance_m**2 - rise**2, 1e-6))
    x, y = direction(placement.facing_deg + placement.aside_deg)
    mouth = np.tile(np.array(placement.mouth_m), (len(distance_m), 1))
    microphone = mouth + np.stack([x * across, y * across, rise], axis=1)
    looks_x, looks_y = direction(placement.facing_deg + placement.aside_deg + 180 + placement.turned_deg)
    ahead = np.array([*placement.ahead, 0.0]) * (-1.0 if setup.source.radiates_back else 1.0)
    return Standing(
        source_m=mouth,
        microphone_m=microphone,
        microphone_axis=np.stack([looks_x * across, looks_y * across, -rise], axis=1),
        source_axis=np.tile(ahead, (len(distance_m), 1)),
        pattern=setup.pattern,
        source_factor=setup.source_factor,
    )


@lru_cache(maxsize=512)
def _leads_here(space: Space, key: PartSetup) -> tuple[float, tuple[float, ...]]:
    """Return the lead of the direct sound over the room, weighted and by band."""
    sound = room_sound(space.box, standing_at(key))
    return max(float(sound.lead_db[0]), LEAST_LEAD_DB), tuple(sound.lead_by_band_db[0].tolist())


def _place_only(setup: PartSetup) -> PartSetup:
    """Return a setup with all that does not reach the room sound set alike, so that one answer serves them all."""
    plain = replace(setup.placement, pop_screen=False, screen_before_m=0.09, low_cut_hz=0.0)
    return replace(setup, placement=plain, gain_db=0.0, zone=None, role="lead", round_trip_ms=None, planned=frozenset())


def heard_of_room(setup: PartSetup) -> Heard:
    """Return what the microphone hears of the room and its noises where it stands."""
    if isinstance(setup.space, Room):
        lead_db = float(_statistical_lead_db(setup, np.array([setup.placement.distance_m]))[0])
        return Heard(lead_db=lead_db, lead_by_band_db=(lead_db,) * 6, noise_dba=noise_of_room(setup))
    lead_db, lead_by_band_db = _leads_here(setup.space, _place_only(setup))
    return Heard(lead_db=lead_db, lead_by_band_db=lead_by_band_db, noise_dba=noise_of_room(setup))


def first_echoes_of(setup: PartSetup) -> tuple[FirstEcho, ...]:
    """Return the six first reflections where a part's microphone stands; see first_echoes."""
    return _echoes_here(setup.drawn_space, _place_only(setup))


@lru_cache(maxsize=128)
def _echoes_here(space: Space, key: PartSetup) -> tuple[FirstEcho, ...]:
    return first_echoes(space.box, standing_at(key))


def line_of(setup: PartSetup) -> LineSetup:
    """Return the document of `line` for a part where it stands: what its room adds and its noise included."""
    return setup.line() if setup.is_plugged else setup.line(heard_of_room(setup))


def louder_along(setup: PartSetup, distances_m: tuple[float, ...], leads_db: np.ndarray | None = None) -> np.ndarray:
    """Return how much higher a miked part peaks at each distance than where it stands: closeness and room counted.

    Args:
        leads_db: the direct sound over the room's there, where it is known already.
    """
    here = _peak_at(setup, (setup.placement.distance_m,), np.array([heard_of_room(setup).lead_db]))
    return _peak_at(setup, distances_m, leads_along(setup, distances_m) if leads_db is None else leads_db) - here


def _peak_at(setup: PartSetup, distances_m: tuple[float, ...], lead_db: np.ndarray) -> np.ndarray:
    """Return a part's peak at distances, against what it would be at 1 m without closeness and room."""
    levels = setup.performance.levels
    near = np.array([_closeness_db(setup, one) for one in distances_m])
    crest_db = levels.peak_db_spl - levels.typical_db_spl if isinstance(levels, SourceLevels) else 0.0
    return fall_db(1.0, np.array(distances_m)) + near + room_on_peak_db(lead_db + near, crest_db)


def _closeness_db(setup: PartSetup, distance_m: float) -> float:
    levels = setup.performance.levels
    if not isinstance(levels, SourceLevels):
        return 0.0
    turned_deg, extent_m = abs(setup.placement.turned_deg), setup.source.extent_m
    return closeness_db(levels.octaves_db, setup.pattern, distance_m, off_axis_deg=turned_deg, extent_m=extent_m)


def noise_of_room(setup: PartSetup) -> float:
    """Return the noise of the room at the microphone of a miked part, in dBA."""
    if isinstance(setup.space, Room):
        return setup.space.noise_dba - directivity_index_db(setup.pattern)
    return noise_at_microphone(setup.space, setup.placement, setup.pattern)


@lru_cache(maxsize=512)
def noise_at_microphone(space: Space, placement: Placement, pattern: str) -> float:
    """Return the noise at a microphone at the hour of recording, in dBA."""
    return space.noise_dba_at(placement.microphone_m, placement.axis, pattern)


NO_ROOM_DB: Final = 60.0
"""So far the direct sound leads where nothing comes back."""


@lru_cache(maxsize=128)
def _leads_along(setup: PartSetup, distances_m: tuple[float, ...]) -> np.ndarray:
    distance_m = np.array(distances_m)
    if isinstance(setup.space, Room):
        lead = _statistical_lead_db(setup, distance_m)
    else:
        lead = np.maximum(room_sound(setup.space.box, standing_at(setup, distance_m)).lead_db, LEAST_LEAD_DB)
    lead.setflags(write=False)
    return lead


def leads_along(setup: PartSetup, distances_m: tuple[float, ...]) -> np.ndarray:
    """Return how far the direct sound stands over the room's at each distance, dB; the array is read-only."""
    if distances_m == (setup.placement.distance_m,):  # known already
        here = np.array([heard_of_room(setup).lead_db])
        here.setflags(write=False)
        return here
    return _leads_along(_place_only(setup).moved(distance_m=1.0), distances_m)


def leads_with(setup: PartSetup, distances_m: tuple[float, ...], between_m: float) -> tuple[np.ndarray, np.ndarray]:
    """Return distances with one more between them, in order, and the leads there.

    The many are the same wherever the microphone is dragged, so that only the one is worked out anew.
    """
    at = int(np.searchsorted(distances_m, between_m))
    lead = np.insert(leads_along(setup, distances_m), at, heard_of_room(setup.moved(distance_m=between_m)).lead_db)
    return np.insert(np.array(distances_m), at, between_m), lead


def _statistical_lead_db(setup: PartSetup, distance_m: np.ndarray) -> np.ndarray:
    loss_db = off_axis_db(setup.pattern, abs(setup.placement.turned_deg))
    critical_m = critical_distance_of(setup)
    if critical_m is None:
        return np.full(distance_m.shape, NO_ROOM_DB)
    return np.array([direct_to_reverberant_db(float(one), critical_m) for one in distance_m]) + loss_db


def critical_distance_of(setup: PartSetup) -> float | None:
    """Return where direct and reverberant sound are equal, by statistics; None where the room has no decay.

    Reference: Dc = 0.057 sqrt(Q_source Q_microphone V / T60), Kuttruff, Room Acoustics (from memory).
    """
    rt60_s = setup.space.rt60_s
    if not rt60_s:
        return None
    return critical_distance_m(setup.space.volume_m3, rt60_s, setup.pattern, setup.recorded_factor)


def reach_of(setup: PartSetup) -> float:
    """Return how far the microphone can go from the mouth along its direction before it meets a wall, in metres."""
    if isinstance(setup.space, Room):
        return math.inf
    placement, size = setup.placement, setup.space.box.size_m
    limits = []
    for step, at, side in zip(
        direction(placement.facing_deg + placement.aside_deg), placement.mouth_m[:2], size[:2], strict=True
    ):
        if step > 1e-9:
            limits.append((side - MARGIN_M - at) / step)
        elif step < -1e-9:
            limits.append((MARGIN_M - at) / step)
    across = max(min(limits), 0.0)
    return math.hypot(across, min(abs(placement.above_m), MOST_RISE * across))


@dataclass(frozen=True, slots=True, kw_only=True)
class StandHere:
    """Where a performer stands, on the plan, and which way."""

    x_m: float
    y_m: float
    facing_deg: float


def planned_stand(space: Space, source: Source, height_m: float) -> StandHere:
    """Return where to stand in a room with a source, its mouth at a height: the spot heard least."""
    return _planned_stand(
        space,
        height_m=height_m,
        usual_m=source.usual_m,
        source_factor=source_factor_of(source),
        backwards=source.radiates_back,
    )


@lru_cache(maxsize=64)
def _planned_stand(
    space: Space, *, height_m: float, usual_m: float, source_factor: float, backwards: bool
) -> StandHere:
    """Return where to stand in a room: the spot heard least at the source's usual distance, with a cardioid.

    It knows neither chain nor distance, so that what is planned after it never moves it.
    """
    width, depth, height = space.box.size_m
    mouth = min(max(height_m, 0.1), height - 0.1)
    spots = best_spots(
        space.box,
        (width / 2, depth / 2, mouth),
        microphone_m=mouth,
        distance_m=min(usual_m, 0.4 * min(width, depth)),
        facing=(0.0, 1.0),
        pattern="cardioid",
        source_factor=source_factor,
        backwards=backwards,
        blocked=[piece.footprint for piece in space.furniture],
        most=1,
        cells=SPOT_CELLS,
    )
    if not spots:
        return StandHere(x_m=width / 2, y_m=depth / 2, facing_deg=0.0)
    return _stand(spots[0])


def _stand(spot: Spot) -> StandHere:
    bearing = {(0.0, 1.0): 0.0, (1.0, 0.0): 90.0, (0.0, -1.0): 180.0, (-1.0, 0.0): 270.0}[spot.facing]
    return StandHere(x_m=round(spot.x_m, 2), y_m=round(spot.y_m, 2), facing_deg=bearing)


def inside(space: Space, placement: Placement, *, least_m: float) -> Placement:
    """Return a placement brought back into its room: mouth off the walls, the microphone too, as near as it must."""
    width, depth, height = space.box.size_m
    mouth_up = min(max(placement.height_m, 0.1), height - 0.1)
    above = min(max(placement.above_m, 0.05 - mouth_up), height - 0.05 - mouth_up)
    distance = max(min(placement.distance_m, 0.8 * min(width, depth)), min(least_m, 0.8 * min(width, depth)))
    moved = replace(placement, height_m=mouth_up, above_m=above, distance_m=distance)
    x, y, _ = moved.microphone_m
    return replace(
        moved,
        x_m=_between(moved.x_m, x - moved.x_m, width),
        y_m=_between(moved.y_m, y - moved.y_m, depth),
    )


def _between(at: float, ahead: float, side: float) -> float:
    """Keep a mouth and the microphone ahead of it between two walls."""
    margin = min(MOUTH_MARGIN_M, side / 10)
    low, high = margin - min(ahead, 0.0), side - margin - max(ahead, 0.0)
    return (low + high) / 2 if low > high else min(max(at, low), high)
