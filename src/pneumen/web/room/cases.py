"""What an amplifier, drums, a horn, a piano or anything loud wants of a room: worked out for this one."""

from dataclasses import dataclass
from typing import Any

from pneumen.core.forecast import PartSetup
from pneumen.core.kit import safe_hours
from pneumen.core.room import corner_lead, corners_of, level_at_ear_db, pick_under_db, wall_behind
from pneumen.core.verdict import Verdict
from pneumen.web.part.models import Part
from pneumen.web.room.models import Room
from pneumen.web.room.outward import USUAL_RT60_S, front_factor, level_1m_db
from pneumen.wording.figures import figure
from pneumen.wording.lengths import far, near

LOUD_DB = 85.0
EARS_M = {"voice": 0.15, "percussion": 0.7, "amp": 1.5}
"""How far a player's own ears are from what sounds (estimates); half a metre for the rest."""
ROOMY_M = 2.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Case:
    """Something to know: what, with its figures, and where one press takes the performer (empty for nowhere)."""

    verdict: Verdict
    title: str
    told: str
    values: dict[str, str]


def cases_of(part: Part, here: PartSetup) -> tuple[Case, ...]:
    """Return what this part's source asks of its room, the special ones first, then the ears."""
    if part.is_plugged:
        return ()
    room, group = part.song.room, part.source_facts.group
    found = []
    if group == "amp":
        found.append(_amp(part, room, here))
    if part.source_facts.radiates_back:
        found.append(_horn(room, here))
    if part.source == "drum-kit":
        found.append(_drums())
    if part.source in ("grand-piano", "upright-piano"):
        found.append(_piano(here))
    return (*found, *_ears(part, room))


def _amp(part: Part, room: Room, here: PartSetup) -> Case:
    placement = here.placement
    how: dict[str, Any] = {"height_m": placement.height_m, "distance_m": placement.distance_m, "pattern": here.pattern}
    pieces = room.layout.furniture
    free = [one for one in corners_of(room.box) if not any(piece.stands_on(*one.stand_m) for piece in pieces)]
    leads = [
        (corner_lead(room.box, corner, source_factor=here.source_factor, **how), corner)
        for corner in free or corners_of(room.box)
    ]
    best, corner = max(leads, key=lambda pair: pair[0].packed_db)
    pick = pick_under_db(level_1m_db(part), here.placement.distance_m, ROOMY_M)
    x, y = corner.stand_m
    return Case(
        verdict=Verdict.CLEAR,
        title="Face it into a corner packed with pillows",
        told=f"The microphone between: in the {corner.name} corner the direct sound leads by {figure(best.packed_db)} dB, "
        f"bare by {figure(best.bare_db)}. The player sits in another room; {far(ROOMY_M, 0)} off in this one the pick lies "
        f"{figure(pick)} dB under the amplifier.",
        values={"stand_x": f"{x:.2f} m", "stand_y": f"{y:.2f} m", "facing": f"{corner.bearing_deg:.0f}"},
    )


def _horn(room: Room, here: PartSetup) -> Case:
    behind = wall_behind(room.box, here.placement.mouth_m, here.placement.microphone_m, here.source_factor)
    near_wall = behind.distance_m < 1.0
    move = "A step away from it, or something soft on it, takes the edge off." if near_wall else "It carries the tone."
    return Case(
        verdict=Verdict.WATCH if near_wall else Verdict.CLEAR,
        title="The bell plays to the wall behind",
        told=f"The {behind.wall} wall, {far(behind.distance_m, 1)} behind, answers {figure(behind.delay_ms, 1)} ms later at "
        f"{figure(behind.level_db, sign=True)} dB against the direct sound. {move} Never into the bell, never on the floor.",
        values={},
    )


def _drums() -> Case:
    return Case(
        verdict=Verdict.CLEAR,
        title="Blankets on the walls, paper towel on the heads",
        told="Hang what you have first; a head that rings on takes a strip of paper towel, taped at its edge.",
        values={},
    )


def _piano(here: PartSetup) -> Case:
    return Case(
        verdict=Verdict.CLEAR,
        title="Walk round it and listen",
        told=f"At {near(here.placement.distance_m)} you hear the action; farther off it is balanced, with room and ventilation. A head "
        "where the microphone would be hears a lot. Two microphones: three to one, and listen in mono.",
        values={},
    )


def _ears(part: Part, room: Room) -> tuple[Case, ...]:
    """A loud source in a small room is loud on the player's ear: how long that is safe."""
    factor = front_factor(part)
    ear_m = EARS_M.get(part.source_facts.group, 0.5)
    at_ear = level_at_ear_db(level_1m_db(part), ear_m, room.box.volume_m3, room.rt60_s or USUAL_RT60_S, factor)
    if at_ear < LOUD_DB or part.source_facts.group == "voice":
        return ()
    minutes = 60 * safe_hours(at_ear)
    time = f"{figure(minutes)} minutes" if minutes >= 1.5 else "a minute"
    if minutes >= 120:
        time = f"{figure(minutes / 60)} hours"
    return (
        Case(
            verdict=Verdict.WATCH,
            title="Your ears are in the room too",
            told=f"About {figure(at_ear)} dBA at the player’s ear here: safe for {time} a day without plugs (NIOSH, 1998). "
            "Padding the walls of a small room does not make the source itself softer.",
            values={},
        ),
    )
