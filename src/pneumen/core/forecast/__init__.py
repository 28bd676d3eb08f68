"""The one result: a part in its setup, what it will do, what is recommended, and what to do next."""

from pneumen.core.forecast.advise import Action, Advice, advise
from pneumen.core.forecast.booths import Booth, booths_for
from pneumen.core.forecast.by_section import GainPlan, SectionGain, clip_chance, gain_plan, levels_by_section
from pneumen.core.forecast.cases import PLAYER_M, USUAL_RT60_S, Case, cases_of
from pneumen.core.forecast.cue import BACKINGS_DB, OWN, Cue, CueMix, cue_of, leak_at_microphone_db
from pneumen.core.forecast.hearing import (
    Heard,
    StandHere,
    critical_distance_of,
    heard_of_room,
    inside,
    leads_along,
    line_of,
    louder_along,
    noise_at_microphone,
    planned_stand,
    reach_of,
    standing_at,
)
from pneumen.core.forecast.mending import GROUND_LOOP, Mending, Step, mendings
from pneumen.core.forecast.outcome import Air, Outcome, outcome
from pneumen.core.forecast.quarrel import EARLY_DB, QUIET_DB, RoomWorth, room_worth
from pneumen.core.forecast.recommend import (
    PatternPlace,
    Recommended,
    boundless_chain,
    cost_of,
    distance_range,
    gain_for,
    ladder_at,
    place_for_pattern,
    recommend,
    spot_range,
    window_missed_db,
    with_planned_gain,
)
from pneumen.core.forecast.remedies import conflict_of, free_remedies
from pneumen.core.forecast.setup import PartSetup, Performance
from pneumen.core.forecast.verdict import judge_kit
from pneumen.core.forecast.zones import ZoneHere, at_zone, zones_here

__all__ = [
    "BACKINGS_DB",
    "EARLY_DB",
    "GROUND_LOOP",
    "OWN",
    "PLAYER_M",
    "QUIET_DB",
    "USUAL_RT60_S",
    "Action",
    "Advice",
    "Air",
    "Booth",
    "Case",
    "Cue",
    "CueMix",
    "GainPlan",
    "Heard",
    "Mending",
    "Outcome",
    "PartSetup",
    "PatternPlace",
    "Performance",
    "Recommended",
    "RoomWorth",
    "SectionGain",
    "StandHere",
    "Step",
    "ZoneHere",
    "advise",
    "at_zone",
    "booths_for",
    "boundless_chain",
    "cases_of",
    "clip_chance",
    "conflict_of",
    "cost_of",
    "critical_distance_of",
    "cue_of",
    "distance_range",
    "free_remedies",
    "gain_for",
    "gain_plan",
    "heard_of_room",
    "inside",
    "judge_kit",
    "ladder_at",
    "leads_along",
    "leak_at_microphone_db",
    "levels_by_section",
    "line_of",
    "louder_along",
    "mendings",
    "noise_at_microphone",
    "outcome",
    "place_for_pattern",
    "planned_stand",
    "reach_of",
    "recommend",
    "room_worth",
    "spot_range",
    "standing_at",
    "window_missed_db",
    "with_planned_gain",
    "zones_here",
]
