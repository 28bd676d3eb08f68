"""Where rows become a part in its setup: what is set by hand or by a take stays, the rest is worked out anew.

One order, no cycles: the room as it hangs, levels, where to stand, the zone, then the distance for this chain, then
the gain. Nothing reads a later setting.
"""

from dataclasses import replace
from typing import Any

from pneumen.core.errors import given
from pneumen.core.forecast import (
    Outcome,
    PartSetup,
    Performance,
    StandHere,
    at_zone,
    boundless_chain,
    distance_range,
    inside,
    outcome,
    planned_stand,
    recommend,
    with_planned_gain,
    zones_here,
)
from pneumen.core.gain import SCHOOLS, school_named
from pneumen.core.gear import GRILLE_M
from pneumen.core.part import guessed_levels
from pneumen.core.place import Placement, Zone, body_of
from pneumen.core.room import Space
from pneumen.core.setup import Chain, PluggedChain
from pneumen.web.delay.plan import delay_of
from pneumen.web.lengths import require_near
from pneumen.web.part.models import Part

EDGE_M = 0.15
SAME_M = 0.005
"""A distance this little beyond a room's end is its end, written in whole centimetres."""


def outcome_of(part: Part, **tried: Any) -> Outcome:
    """Return what a part will do as it stands, or with something else tried out; see settle."""
    return outcome(settle(part, **tried))


def settle(
    part: Part, *, gain_db: float | None = None, school: str | None = None, space: Space | None = None, **tried: Any
) -> PartSetup:
    """Return a part in its setup.

    Args:
        gain_db, school, space: to try out in place of the stored ones.
        tried: fields of Placement, likewise; what is planned follows them.
    """
    tried = {name: value for name, value in tried.items() if value is not None}
    setup = _standing(part, space or space_of(part), school, tried)
    setup = _at_distance(part, _at_zone(part, setup, tried), tried)
    stored = part.gain_db if part.gain_chain == part.chain_name else None
    wanted = stored if gain_db is None else gain_db
    free = {"distance"} if part.distance_m is None and "distance_m" not in tried else set()
    setup = replace(setup, planned=frozenset(free | ({"gain"} if wanted is None else set())))
    if wanted is None:
        return with_planned_gain(setup)
    low, high = setup.chain.gain_range_db
    return replace(setup, gain_db=min(max(wanted, low), high))


def settle_with(part: Part, chain: Chain) -> PartSetup:
    """Return a part as it would be set up with a chain, what stands before it kept: as it is where that is its own."""
    if isinstance(chain, PluggedChain):
        chain = replace(chain, before=part.before)
    if chain == part.to_chain():
        return settle(part)
    setup = _standing(part, part.song.room.to_core(), None, {}, chain)
    setup = _at_distance(part, _at_zone(part, setup, {}), {})
    return with_planned_gain(replace(setup, planned=frozenset({"gain"})))


def planning_setup(part: Part) -> PartSetup:
    """Return a part where it stands and looks, with no chain of its own: what the planner of kits starts from."""
    setup = _at_zone(part, _standing(part, space_of(part), None, {}), {})
    if part.in_stereo and not part.is_plugged:  # whatever there is now, a pair is what is looked for
        pair = part.pair_with(boundless_chain(setup.pattern))
        setup = setup.moved(turned_deg=given("pair", pair).outwards_deg)
    return setup


def space_of(part: Part) -> Space:
    """Return the room a part is recorded in, its noise as this chain is known to hear it."""
    space, chain = part.song.room.to_core(), part.chain_name
    lesson = part.lesson("noise", chain)
    if lesson is None or lesson.chain != chain:
        return space
    return replace(space, noise_change_db=given("noise", lesson.noise_change_db), noise_band_db=lesson.band_db)


def zone_of(part: Part) -> Zone | None:
    """Return the zone a person chose; None where it is planned, or none is drawn."""
    body = body_of(part.source)
    return next((zone for zone in body.zones if zone.slug == part.zone), None) if body else None


def best_zone(part: Part, setup: PartSetup) -> Zone | None:
    """Return the zone to start from by a part's taste; None where none is drawn.

    Chosen as a cardioid behind any chain would have it where one stands best, so that neither gear nor a step aside
    changes it.
    """
    stand = stand_in(part, setup.drawn_space, setup.placement.height_m, planned=True)
    free = replace(setup, chain=boundless_chain("cardioid"), school=SCHOOLS[0], gain_db=0.0, round_trip_ms=None)
    there = free.moved(x_m=stand.x_m, y_m=stand.y_m, facing_deg=stand.facing_deg, turned_deg=0.0)
    found = zones_here(there, part.taste)
    return found[0].zone if found else None


def _standing(
    part: Part, space: Space, school: str | None, tried: dict[str, Any], other: Chain | None = None
) -> PartSetup:
    source = part.source_facts
    chain = other or part.to_chain()
    pair = part.pair_with(chain)
    turned_deg = pair.outwards_deg if pair else tried.get("turned_deg", part.turned_deg)
    placement = Placement(
        x_m=space.box.size_m[0] / 2,
        y_m=space.box.size_m[1] / 2,
        distance_m=source.usual_m,
        height_m=tried.get("height_m", part.mouth_m),
        turned_deg=turned_deg,
        pop_screen=tried.get("pop_screen", part.pop_screen),
        screen_before_m=tried.get("screen_before_m", part.screen_before_m),
        low_cut_hz=tried.get("low_cut_hz", part.low_cut_hz),
    )
    setup = PartSetup(
        source=source,
        performance=performance_of(part, other_chain=other is not None),
        space=space,
        placement=placement,
        chain=chain,
        school=school_named(school or part.school),
        role=part.role,
        round_trip_ms=_round_trip_ms(part),
        pair=pair,
        capsule_doubt_m=0.0 if part.from_grille else GRILLE_M,
    )
    stand = stand_in(part, space, placement.height_m)
    x_m, y_m = tried.get("x_m", stand.x_m), tried.get("y_m", stand.y_m)
    wide, deep, high = space.box.size_m
    return setup.moved(
        x_m=_within(x_m, wide),
        y_m=_within(y_m, deep),
        facing_deg=tried.get("facing_deg", stand.facing_deg) % 360,
        height_m=min(max(placement.height_m, 0.1), high - 0.1),
    )


def _within(at: float, side: float) -> float:
    margin = min(EDGE_M, side / 10)
    return min(max(at, margin), side - margin)


def stand_in(part: Part, space: Space, height_m: float, *, planned: bool = False) -> StandHere:
    """Return where a part stands: where it was set, else the planned spot."""
    if not planned and part.stand_x_m is not None and part.stand_y_m is not None:
        return StandHere(x_m=part.stand_x_m, y_m=part.stand_y_m, facing_deg=part.facing_deg or 0.0)
    return planned_stand(space, part.source_facts, height_m)


def _at_zone(part: Part, setup: PartSetup, tried: dict[str, Any]) -> PartSetup:
    """Look at the zone chosen, or the best by taste; side and height are the zone's unless set by hand."""
    if setup.is_plugged:
        return setup
    zone = zone_of(part) or best_zone(part, setup)
    there = at_zone(setup, zone, part.taste) if zone else setup
    placement = there.placement
    aside = placement.aside_deg if part.aside_deg is None else part.aside_deg
    above = placement.above_m if part.above_m is None else part.above_m
    return there.moved(aside_deg=tried.get("aside_deg", aside), above_m=tried.get("above_m", above))


def _at_distance(part: Part, setup: PartSetup, tried: dict[str, Any]) -> PartSetup:
    if setup.is_plugged:
        return setup
    near, far = distance_range(setup)
    wanted = tried.get("distance_m", part.distance_m)
    if wanted is None:
        return setup.moved(distance_m=recommend(setup).distance_m)
    wanted = min(max(wanted, near), setup.source.farthest_m)
    setup = setup.moved(distance_m=wanted)
    if wanted > far + SAME_M:  # the performer makes room for it
        return replace(setup, placement=inside(setup.drawn_space, setup.placement, least_m=near))
    return setup


def distance_bounds_m(part: Part) -> tuple[float, float]:
    """Return the least and the most a miked part's distance can be set to: its source's, nearer in a small room.

    Beyond what the room allows the performer makes room for it.
    """
    near, _far = distance_range(settle(part))
    return min(near, part.source_facts.nearest_m), part.source_facts.farthest_m


def require_distance(part: Part, distance_m: float, *, behind_m: float = 0.0) -> None:
    """Refuse a distance that a miked part cannot have.

    Args:
        behind_m: how far the capsule lies behind the point its person measures to.

    Raises:
        OutOfRange: naming the distance, and the bounds as they are measured.
    """
    if part.source_facts.nearest_m <= distance_m <= part.source_facts.farthest_m:
        return
    nearest_m, farthest_m = distance_bounds_m(part)
    require_near("distance", distance_m - behind_m, max(nearest_m - behind_m, 0.0), farthest_m - behind_m)


def performance_of(part: Part, *, other_chain: bool = False) -> Performance:
    """Return how loud a part is as far as is believed: what a take taught where it holds, else the guess."""
    guess = guessed_levels(part.source, part.loudness)
    chain = None if other_chain else part.chain_name
    lesson = part.lesson("level", chain)
    if lesson is None:
        return Performance(levels=part.guessed_source_levels(), band_db=guess.band_db)
    same_chain = lesson.chain == chain
    return Performance(
        levels=lesson.source_levels,
        band_db=lesson.band_db if same_chain else lesson.other_chain_band_db,
        from_take=True,
        absolute=lesson.absolute,
        sheets_count=not same_chain,  # the very chain the level was learned with: its data sheets no longer matter
        known_gain_db=lesson.gain_db if same_chain else None,
        known_distance_m=lesson.distance_m if same_chain else None,
    )


def _round_trip_ms(part: Part) -> float | None:
    plan = delay_of(part)
    return None if plan is None else plan.round_trip_ms
