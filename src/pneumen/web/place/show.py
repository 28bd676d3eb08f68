"""What the Place screen says: sentence, ladder, response, schools in this room, what to do next, why."""

from dataclasses import dataclass, replace

import numpy as np

from pneumen.core.part import rise_of
from pneumen.core.place import (
    DISTANCE_SCHOOLS,
    FELT,
    LOW_CUTS_HZ,
    NEAREST_SCREEN_M,
    OUT_OF_THE_AIR_DEG,
    SWAY_M,
    Ladder,
    LowCut,
    Placement,
    Response,
    at_distance,
    curved_m,
    felt_most,
    judge_place,
    ladder_of,
    level_along,
    low_cut_db,
    low_cut_of,
    off_axis_deg,
    puff_speed_m_s,
    response_at,
    step_back_for,
    suited_m,
)
from pneumen.web.gain.why import Why
from pneumen.web.lengths import near, near_field, near_unit
from pneumen.web.place.picture import NARROW, STRIP_LABELS, WIDE, CurvePicture, LadderPicture, draw_curve, draw_ladder
from pneumen.web.place.services import FIELDS, GRILLE_M, Placed
from pneumen.web.place.start import StartingZones, starting_zones
from pneumen.web.song.models import Part
from pneumen.web.song.outlook import chain_of_part
from pneumen.web.wording import figure

USUAL_RISE_DB = 6.0
SHEETS_M = (0.1, 0.3, 0.5, 1.0, 100.0)
"""Where data sheets take the response; 1 m where they say nothing else (common practice, no source)."""
ROLE_SLACK = 1.1


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
    less_m: float
    low_cuts: tuple[int, ...]
    sheets: tuple[tuple[float, str], ...]
    notes: tuple[tuple[str, str], ...]
    zones: StartingZones | None
    whys: tuple[Why, ...]


def placed_of(part: Part) -> Placed:
    """Return how a part's microphone stands."""
    return Placed(**{name: getattr(part, name) for name in FIELDS})


def place_screen(part: Part, placed: Placed | None = None, *, zones: bool = True) -> PlaceScreen:
    """Return what the Place screen shows of a miked part, as stored or with another place tried out.

    Args:
        zones: whether the instrument and where to start at it are shown too, which a drag leaves out.
    """
    placed = placed or placed_of(part)
    source = part.source_facts
    pattern = chain_of_part(part).microphone.pattern
    ladder = _ladder(part, placed)
    voice = source.group == "voice"
    level_db = level_along(ladder, placed.distance_m)
    worst = felt_most(ladder, placed.distance_m)
    low_cut = low_cut_of(source, placed.low_cut_hz)
    return PlaceScreen(
        verdict=judge_place(ladder, placed.distance_m, low_cut),
        sentence=_sentence(ladder, placed.distance_m, worst, low_cut),
        ladders=tuple(draw_ladder(ladder, placed, level_db, frame, voice=voice) for frame in (WIDE, NARROW)),
        curve=draw_curve(_response(pattern, placed, source.extent_m)),
        placed=placed,
        nearest_m=source.nearest_m,
        farthest_m=source.farthest_m,
        reading=_reading(ladder, placed.distance_m),
        schools=tuple(_schools(ladder, placed)) if voice else (),
        todo=_todo(ladder, placed) or (_role_todo(part, ladder, placed) if voice else None),
        loud=_louder(part, ladder, placed.distance_m),
        pops=source.pops,
        less_m=GRILLE_M if placed.from_grille else 0.0,
        low_cuts=LOW_CUTS_HZ,
        sheets=tuple((one, "far off" if one == SHEETS_M[-1] else near(one)) for one in SHEETS_M),
        notes=_notes(placed, low_cut, pops=source.pops),
        zones=starting_zones(part) if zones else None,
        whys=_whys(pattern, source.pops, placed),
    )


def _response(pattern: str, placed: Placed, extent_m: float) -> Response:
    """The response here, through the low-cut, against the data sheet's."""
    angle_deg = placed.off_microphone_deg
    distance_m = float(curved_m(placed.distance_m, extent_m))
    here = response_at(pattern, distance_m, angle_deg=angle_deg, reference_m=placed.sheet_m)
    cut = low_cut_db(np.array(here.frequency_hz), placed.low_cut_hz)
    both = zip(here.response_db, cut, strict=True)
    return replace(here, response_db=tuple(None if level is None else level + float(less) for level, less in both))


def _notes(placed: Placed, low_cut: LowCut, *, pops: bool) -> tuple[tuple[str, str], ...]:
    """What height, screen and low-cut bring with them: (verdict, sentence)."""
    notes = []
    if low_cut.verdict != "clear":
        octave = f"{figure(low_cut.lowest_octave_db, 1)} dB in the octave at {low_cut.lowest_octave_hz} Hz"
        told = (
            f"A low-cut at {placed.low_cut_hz:g} Hz takes {octave}, and it stays in the file: the same cut can be made"
        )
        notes.append((low_cut.verdict, f"{told} afterwards, never undone. Off, or 80 Hz at most for what plays low."))
    if pops and placed.pop_screen and placed.screen_before_m < NEAREST_SCREEN_M:
        notes.append(
            ("watch", f"Less than {near(NEAREST_SCREEN_M)} before the capsule the screen’s own swirl is heard.")
        )
    if pops and placed.above_m:
        angle = off_axis_deg(placed.off_mouth_deg, placed.above_m, placed.distance_m)
        notes.append(("clear", f"{figure(angle)}° off the mouth’s axis, height and side together."))
    return tuple(notes)


def _role_todo(part: Part, ladder: Ladder, placed: Placed) -> tuple[str, str, dict[str, str]] | None:
    """A lead wants the near half of the calm range, an airy voice behind it the far half."""
    span = suited_m(ladder, part.role)
    if span is None or span[0] / ROLE_SLACK <= placed.distance_m <= span[1] * ROLE_SLACK:
        return None
    wanted = min(max(placed.distance_m, span[0]), span[1])
    here, there = at_distance(ladder, placed.distance_m), at_distance(ladder, wanted)
    voice = "a lead, close and present" if part.role == "lead" else f"a {part.role} voice, airier"
    verb = "Move closer" if wanted < placed.distance_m else "Move back"
    effect = (
        f"{voice}: bass {figure(there['bass'] - here['bass'], 1, sign=True)} dB, "
        f"room {figure(there['room'] - here['room'], 1, sign=True)} dB"
    )
    return f"{verb}, to {near(wanted)}", effect, _to(wanted, placed)


def _to(distance_m: float, placed: Placed) -> dict[str, str]:
    """A button's distance: always in centimetres, measured where its person measures."""
    return {"distance": f"{100 * (distance_m - (GRILLE_M if placed.from_grille else 0)):.2f} cm"}


def _sentence(ladder: Ladder, distance_m: float, worst: tuple[str, float], low_cut: LowCut) -> str:
    if low_cut.verdict == "baked-in":
        return f"The low-cut at {low_cut.cut_hz:g} Hz reaches into the sound itself; nothing brings that back."
    name, strength = worst
    calm = ladder.calm_m
    if calm and strength <= FELT:
        where = "inside" if calm[0] <= distance_m <= calm[1] else "at the end of"
        return f"{near(distance_m)} is {where} the calm range, {near(calm[0])} to {near(calm[1])}."
    if strength <= FELT:
        return f"{near(distance_m)} is as far as this room allows: nearer or farther something is felt."
    told = f"At {near(distance_m)} {STRIP_LABELS[name].lower()} {'are' if name == 'pops' else 'is'} felt"
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


def _schools(ladder: Ladder, placed: Placed) -> list[SchoolHere]:
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
                verdict="clear" if agrees else judge_place(ladder, middle),
                values=_to(middle, placed),
            )
        )
    return found


def _todo(ladder: Ladder, placed: Placed) -> tuple[str, str, dict[str, str]] | None:
    """The one move that calms most: into the calm range, or to the best there is."""
    name, strength = felt_most(ladder, placed.distance_m)
    if strength <= FELT:
        return None
    if name == "pops" and not placed.pop_screen and placed.off_mouth_deg < OUT_OF_THE_AIR_DEG:
        return _out_of_the_air(placed)
    wanted = ladder.best_m
    if ladder.calm_m:
        low, high = ladder.calm_m
        wanted = min(max(placed.distance_m, low), high)
    before, after = at_distance(ladder, placed.distance_m)[name], at_distance(ladder, wanted)[name]
    verb = "Move closer" if wanted < placed.distance_m else "Move back"
    unit = {"pops": "m/s"}.get(name, "dB")
    effect = f"{STRIP_LABELS[name].lower()} {figure(before, 1)} to {figure(after, 1)} {unit}"
    return f"{verb}, to {near(wanted)}", effect, _to(wanted, placed)


def _out_of_the_air(placed: Placed) -> tuple[str, str, dict[str, str]]:
    """Where there is no screen: beside the puff, not behind it; a screen would do it too."""
    now, aside = (
        float(puff_speed_m_s(np.array([placed.distance_m]), angle, pop_screen=False)[0])
        for angle in (placed.off_mouth_deg, OUT_OF_THE_AIR_DEG)
    )
    title = f"Take it {OUT_OF_THE_AIR_DEG:.0f}° off the mouth’s axis, or put a pop screen before it"
    return title, f"pops {figure(now, 1)} to {figure(aside, 1)} m/s", {"off_mouth": f"{OUT_OF_THE_AIR_DEG:.0f}"}


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


def _whys(pattern: str, pops: bool, placed: Placed) -> tuple[Why, ...]:
    whys = [
        Why(
            title="Bass build-up",
            lines=(
                f"A {pattern} near a point source: a + b cos θ (1 + 1/(jkr)), k = 2πf/c; told is 100 Hz against 1 kHz.",
                "Up to 6 dB it is warmth; beyond 12 it has to be taken out. Something large bends the wave less: its half width counts like distance (estimate).",
            ),
            source="Olson; Beranek (from memory)",
        ),
        Why(
            title="Low-cut and the data sheet",
            lines=(
                f"The curve is what this pattern adds to the data sheet’s own, taken as measured {_taken(placed.sheet_m)}.",
                "A low-cut is taken as 12 dB an octave: −10 log10(1 + (fc/f)⁴); what a switch does is on its sheet.",
            ),
            source="second-order Butterworth; the 80 Hz are common practice, no source",
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


def _taken(sheet_m: float) -> str:
    return "far off" if sheet_m >= SHEETS_M[-1] else f"at {near(sheet_m)}"


def verdict_of_place(part: Part) -> str:
    """How the place of a miked part's microphone stands."""
    low_cut = low_cut_of(part.source_facts, part.low_cut_hz)
    return judge_place(_ladder(part, placed_of(part)), part.distance_m, low_cut)


def _ladder(part: Part, placed: Placed) -> Ladder:
    placement = Placement(
        pattern=chain_of_part(part).microphone.pattern,
        off_mouth_deg=min(off_axis_deg(placed.off_mouth_deg, placed.above_m, placed.distance_m), 90),
        off_microphone_deg=placed.off_microphone_deg,
        pop_screen=placed.pop_screen,
    )
    return ladder_of(part.source_facts, part.song.room.to_core(), placement)
