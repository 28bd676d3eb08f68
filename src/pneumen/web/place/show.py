"""What the Place screen says: sentence, ladder, response, schools in this room, what to do next, why."""

from dataclasses import dataclass

import numpy as np

from pneumen.core.kit import judge_room
from pneumen.core.part import rise_of
from pneumen.core.place import (
    DISTANCE_SCHOOLS,
    SWAY_M,
    Ladder,
    Placement,
    at_distance,
    ladder_of,
    level_along,
    response_at,
    step_back_for,
)
from pneumen.web.gain.why import Why
from pneumen.web.lengths import near, near_field, near_unit
from pneumen.web.place.picture import NARROW, STRIP_LABELS, WIDE, CurvePicture, LadderPicture, draw_curve, draw_ladder
from pneumen.web.place.services import Placed
from pneumen.web.song.models import Part
from pneumen.web.song.outlook import chain_of_part
from pneumen.web.wording import figure

USUAL_RISE_DB = 6.0
SHEET_DISTANCE_M = 1.0
"""Data sheets show the response at 1 m where they say nothing else (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class SchoolHere:
    """A school of distance as it would do in this room."""

    label: str
    range: str
    reason: str
    told: str
    verdict: str
    values: dict[str, str]


@dataclass(frozen=True, slots=True, kw_only=True)
class Louder:
    """What to do for a louder passage: which it is, and the two ways."""

    told: str
    ways: tuple[tuple[str, str], ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class PlaceScreen:
    verdict: str
    sentence: str
    ladders: tuple[LadderPicture, ...]
    curve: CurvePicture
    placed: Placed
    nearest_m: float
    farthest_m: float
    reading: tuple[tuple[str, str, str], ...]
    schools: tuple[SchoolHere, ...]
    todo: tuple[str, str, dict[str, str]] | None
    loud: Louder
    pops: bool
    whys: tuple[Why, ...]


def placed_of(part: Part) -> Placed:
    """Return how a part's microphone stands."""
    return Placed(
        distance_m=part.distance_m,
        off_mouth_deg=part.off_mouth_deg,
        off_microphone_deg=part.off_microphone_deg,
        pop_screen=part.pop_screen,
    )


def place_screen(part: Part, placed: Placed | None = None) -> PlaceScreen:
    """Return what the Place screen shows of a miked part, as stored or with another place tried out."""
    placed = placed or placed_of(part)
    source = part.source_facts
    pattern = chain_of_part(part).microphone.pattern
    ladder = _ladder(part, placed)
    voice = source.group == "voice"
    level_db = level_along(ladder, placed.distance_m)
    worst = _worst(ladder, placed.distance_m)
    return PlaceScreen(
        verdict=_verdict(ladder, placed.distance_m),
        sentence=_sentence(ladder, placed.distance_m, worst),
        ladders=tuple(
            draw_ladder(ladder, placed.distance_m, level_db, frame, schools=voice) for frame in (WIDE, NARROW)
        ),
        curve=draw_curve(
            response_at(pattern, placed.distance_m, angle_deg=placed.off_microphone_deg, reference_m=SHEET_DISTANCE_M)
        ),
        placed=placed,
        nearest_m=source.nearest_m,
        farthest_m=source.farthest_m,
        reading=_reading(ladder, placed.distance_m),
        schools=tuple(_schools(ladder)) if voice else (),
        todo=_todo(ladder, placed),
        loud=_louder(part, ladder, placed.distance_m),
        pops=source.pops,
        whys=_whys(pattern, source.pops),
    )


def _strength(ladder: Ladder, name: str, distance_m: float) -> float:
    return float(np.interp(np.log(distance_m), np.log(ladder.distance_m), ladder.strengths[name]))


def _worst(ladder: Ladder, distance_m: float) -> tuple[str, float]:
    strengths = {name: _strength(ladder, name, distance_m) for name in ladder.values if name != "sibilance"}
    name = max(strengths, key=lambda one: strengths[one])
    return name, strengths[name]


def _verdict(ladder: Ladder, distance_m: float) -> str:
    """Pops and room cannot be taken out again; bass and sway can be mended, at a price."""
    name, strength = _worst(ladder, distance_m)
    if judge_room(-at_distance(ladder, distance_m)["room"]) == "baked-in":
        return "baked-in"
    if strength <= 0.01:
        return "clear"
    return "baked-in" if name == "pops" and strength > 0.6 else "mendable" if strength > 0.8 else "watch"


def _sentence(ladder: Ladder, distance_m: float, worst: tuple[str, float]) -> str:
    name, strength = worst
    calm = ladder.calm_m
    if calm and strength <= 0.01:
        return f"{near(distance_m)} is inside the calm range, {near(calm[0])} to {near(calm[1])}."
    told = f"At {near(distance_m)} {STRIP_LABELS[name].lower()} is felt"
    if calm:
        return f"{told}; all is calm from {near(calm[0])} to {near(calm[1])}."
    return f"{told}; no distance is calm in this room, {near(ladder.best_m)} comes nearest."


def _reading(ladder: Ladder, distance_m: float) -> tuple[tuple[str, str, str], ...]:
    here = at_distance(ladder, distance_m)
    units = {"bass": "dB", "pops": "m/s", "sibilance": "dB", "room": "dB", "sway": "dB"}
    return (
        ("To the capsule", near_field(distance_m), near_unit()),
        *(
            (STRIP_LABELS[name], figure(value, 1 if abs(value) < 10 else 0), units[name])
            for name, value in here.items()
        ),
    )


def _schools(ladder: Ladder) -> list[SchoolHere]:
    """Say of each school what its middle would do here, and whether it agrees with the calm range."""
    found = []
    for school in DISTANCE_SCHOOLS:
        middle = (school.low_m * school.high_m) ** 0.5
        if middle < ladder.distance_m[0]:
            continue
        here, calm = at_distance(ladder, middle), ladder.calm_m
        agrees = calm is not None and school.high_m > calm[0] and school.low_m < calm[1]
        told = (
            f"room {figure(here['room'])} dB, bass {figure(here['bass'], sign=True)} dB, sway {figure(here['sway'])} dB"
        )
        found.append(
            SchoolHere(
                label=school.label,
                range=f"{near(school.low_m)} to {near(school.high_m)}",
                reason=f"{school.reason}; {school.price}",
                told=told,
                verdict="clear" if agrees else _verdict(ladder, middle),
                values={"distance": f"{100 * middle:.0f} cm"},
            )
        )
    return found


def _todo(ladder: Ladder, placed: Placed) -> tuple[str, str, dict[str, str]] | None:
    """The one move that calms most: into the calm range, or to the best there is."""
    name, strength = _worst(ladder, placed.distance_m)
    if strength <= 0.01:
        return None
    wanted = ladder.best_m
    if ladder.calm_m:
        low, high = ladder.calm_m
        wanted = min(max(placed.distance_m, low), high)
    before, after = at_distance(ladder, placed.distance_m)[name], at_distance(ladder, wanted)[name]
    verb = "Move closer" if wanted < placed.distance_m else "Move back"
    unit = {"pops": "m/s"}.get(name, "dB")
    effect = f"{STRIP_LABELS[name].lower()} {figure(before, 1)} to {figure(after, 1)} {unit}"
    return f"{verb}, to {near(wanted)}", effect, {"distance": f"{100 * wanted:.1f} cm"}


def _louder(part: Part, ladder: Ladder, distance_m: float) -> Louder:
    """Step back or turn down for the loudest section, or for any passage of USUAL_RISE_DB where none is told."""
    section = rise_of(part.core_sections)
    name, rise_db = section or ("A passage", USUAL_RISE_DB)
    softer = "the softer sections" if section else "the rest"
    back = step_back_for(ladder, distance_m, rise_db)
    reached = back.fall_db > rise_db - 0.1
    short = "as loud as the rest" if reached else f"as far as the ruler goes, {figure(back.fall_db, 1)} dB"
    return Louder(
        told=f"{name}, {figure(rise_db, 1)} dB over {softer}:",
        ways=(
            (
                f"Step back, {near(distance_m)} to {near(back.distance_m)}",
                f"{short}; bass {figure(back.bass_change_db, 1, sign=True)} dB, "
                f"room {figure(back.room_change_db, 1, sign=True)} dB: another tone",
            ),
            (
                f"Turn the gain down {figure(rise_db, 1)} dB and stay",
                "bass and room as they were: take it by itself, with its own gain",
            ),
        ),
    )


def _whys(pattern: str, pops: bool) -> tuple[Why, ...]:
    whys = [
        Why(
            title="Bass build-up",
            lines=(
                f"A {pattern} near a point source: a + b cos θ (1 + 1/(jkr)), k = 2πf/c; told is 100 Hz against 1 kHz.",
                "Up to 6 dB it is warmth; beyond 12 it has to be taken out.",
            ),
            source="Olson; Beranek (from memory)",
        ),
        Why(
            title="Room and sway",
            lines=(
                "Room against the voice: 20 log10(d/Dc), Dc = 0.057 √(Q V / T60); calm where it lies 10 dB under.",
                f"Sway of {near(SWAY_M)} to and fro: 20 log10((d + s)/(d − s)); calm up to 6 dB.",
            ),
            source="statistical room acoustics, Kuttruff (from memory); the limits are common practice, no source",
        ),
    ]
    if pops:
        whys.append(
            Why(
                title="Pops and hard S",
                lines=(
                    "A P is a jet: 15 m/s from an opening of 15 mm (assumed), falling as 6 D/x, half as fast 5.5° off its axis, 6 % at 15°. "
                    "A screen leaves about a tenth (estimate).",
                    "A hard S is beamed: 3 dB weaker 30° off the mouth’s axis (estimate). Turning the microphone on the spot leaves it in the air stream.",
                ),
                source="Pope, Turbulent Flows, ch. 5 (from memory)",
            )
        )
    return tuple(whys)


def verdict_of_place(part: Part) -> str:
    """How the place of a miked part's microphone stands."""
    return _verdict(_ladder(part, placed_of(part)), part.distance_m)


def _ladder(part: Part, placed: Placed) -> Ladder:
    placement = Placement(
        pattern=chain_of_part(part).microphone.pattern,
        off_mouth_deg=placed.off_mouth_deg,
        off_microphone_deg=placed.off_microphone_deg,
        pop_screen=placed.pop_screen,
    )
    return ladder_of(part.source_facts, part.song.room.to_core(), placement)
