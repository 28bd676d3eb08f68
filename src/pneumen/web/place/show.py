"""What the Place screen says: sentence, ladder, response, schools in this room, what to do next, why."""

from dataclasses import dataclass, replace

import numpy as np

from pneumen.core.forecast import Advice, Outcome, PartSetup, advise, distance_range, louder_along, outcome
from pneumen.core.gear import GRILLE_M
from pneumen.core.line import low_cut_db
from pneumen.core.part import rise_of
from pneumen.core.place import (
    DISTANCE_SCHOOLS,
    FELT,
    NEAREST_SCREEN_M,
    SWAY_M,
    Ladder,
    LowCut,
    Placement,
    Response,
    StepBack,
    StereoPair,
    at_distance,
    curved_m,
    felt_most,
    judge_place,
    response_at,
    step_back_for,
)
from pneumen.core.verdict import Verdict
from pneumen.web.curve import CurvePicture, draw_curve
from pneumen.web.drawing import those_seen
from pneumen.web.figures import Figures, figures_of
from pneumen.web.gain.todo import Todo, todo_of
from pneumen.web.gain.why import Why
from pneumen.web.part.models import Part
from pneumen.web.place.picture import NARROW, STRIP_LABELS, WIDE, LadderPicture, draw_ladder
from pneumen.web.place.services import SHEETS_M, Placing
from pneumen.web.place.start import StartingZones, starting_zones
from pneumen.web.settle import settle
from pneumen.wording.figures import figure
from pneumen.wording.lengths import near, near_field, near_unit

USUAL_RISE_DB = 6.0


@dataclass(frozen=True, slots=True, kw_only=True)
class SchoolHere:
    """A school of distance as it would do in this room."""

    label: str
    range: str
    reason: str
    told: str
    verdict: Verdict
    values: dict[str, str]


@dataclass(frozen=True, slots=True, kw_only=True)
class Louder:
    """What to do for a louder passage: which it is, and the ways there are."""

    told: str
    ways: tuple[tuple[str, str], ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Placed:
    """How a microphone stands, and how its person measures."""

    placement: Placement
    from_grille: bool
    sheet_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class PlaceScreen:
    """All the Place screen shows; figures is None while something is only tried out."""

    figures: Figures | None
    verdict: Verdict
    sentence: str
    ladders: tuple[LadderPicture, ...]
    curve: CurvePicture
    placed: Placed
    nearest_m: float
    farthest_m: float
    reading: tuple[tuple[str, str, str, str], ...]
    schools: tuple[SchoolHere, ...]
    todos: tuple[Todo, ...]
    loud: Louder
    pops: bool
    less_m: float
    notes: tuple[tuple[Verdict, str], ...]
    zones: StartingZones | None
    pair: str
    whys: tuple[Why, ...]
    place_origin: str

    @property
    def nearest_cm(self) -> float:
        return 100 * self.nearest_m

    @property
    def farthest_cm(self) -> float:
        return 100 * self.farthest_m

    @property
    def less_cm(self) -> float:
        return 100 * self.less_m


def place_screen(part: Part, placing: Placing | None = None, *, zones: bool = True) -> PlaceScreen:
    """Return what the Place screen shows of a miked part, as stored or with another place tried out.

    Args:
        zones: whether the instrument and where to start at it are shown too, which a drag leaves out.
    """
    told = placing.changes if placing else {}
    setup = settle(part, **(placing.of_placement if placing else {}))
    advice, air = advise(setup), outcome(setup).in_air
    source, placement, ladder = setup.source, setup.placement, air.ladder
    placed = Placed(
        placement=placement,
        from_grille=bool(told.get("from_grille", part.from_grille)),
        sheet_m=told.get("sheet_m", part.sheet_m),
    )
    voice = source.group == "voice"
    near_m, far_m = distance_range(setup)
    response = _response(setup, placed.sheet_m)
    level_db = louder_along(setup, tuple(ladder.distance_m.tolist()), -ladder.values["room"])
    return PlaceScreen(
        figures=figures_of(part.pk, advice.before) if placing is None else None,
        verdict=advice.before.place_verdict,
        sentence=_sentence(advice),
        ladders=tuple(draw_ladder(setup, ladder, level_db, frame, voice=voice) for frame in those_seen(WIDE, NARROW)),
        curve=draw_curve(response.frequency_hz, response.response_db),
        placed=placed,
        nearest_m=near_m,
        farthest_m=far_m,
        reading=_reading(advice.before),
        schools=tuple(_schools(setup, ladder, placed)) if voice else (),
        todos=tuple(todo_of(one, advice.before) for one in advice.actions if one.kind in ("distance", "aside")),
        loud=_louder(part, ladder, placement.distance_m),
        pops=source.pops,
        less_m=GRILLE_M if placed.from_grille else 0.0,
        notes=_notes(placement, air.low_cut, pops=source.pops),
        zones=starting_zones(part, setup) if zones else None,
        pair=_pair_told(setup.pair),
        whys=_whys(setup, placed),
        place_origin=part.place_origin,
    )


def _pair_told(pair: StereoPair | None) -> str:
    """Describe a pair; nothing where one microphone stands alone."""
    if pair is None:
        return ""
    apart = f"{near(pair.spacing_m)} apart" if pair.spacing_m else "at one point"
    return f"Two microphones {apart}, {figure(pair.between_deg)}° between their axes, both gains alike."


def _response(setup: PartSetup, sheet_m: float) -> Response:
    """The response here, through the low-cut, against the data sheet's."""
    distance_m = float(curved_m(setup.placement.distance_m, setup.source.extent_m))
    here = response_at(setup.pattern, distance_m, angle_deg=abs(setup.placement.turned_deg), reference_m=sheet_m)
    cut = low_cut_db(np.array(here.frequency_hz), setup.placement.low_cut_hz)
    both = zip(here.response_db, cut, strict=True)
    return replace(here, response_db=tuple(None if level is None else level + float(less) for level, less in both))


def _notes(placement: Placement, low_cut: LowCut, *, pops: bool) -> tuple[tuple[Verdict, str], ...]:
    """What height, screen and low-cut bring with them: (verdict, sentence)."""
    notes: list[tuple[Verdict, str]] = []
    if low_cut.verdict != Verdict.CLEAR:
        note = f"{figure(low_cut.lowest_note_db, 1)} dB off the lowest note, {low_cut.lowest_note_hz:.0f} Hz"
        told = (
            f"A low-cut at {placement.low_cut_hz:g} Hz takes {note}, and it stays in the file: the same cut can be made"
        )
        notes.append((low_cut.verdict, f"{told} afterwards, never undone. Off, or 80 Hz at most for what plays low."))
    if pops and placement.pop_screen and placement.screen_at_m < NEAREST_SCREEN_M:
        notes.append(
            (Verdict.WATCH, f"Less than {near(NEAREST_SCREEN_M)} before the capsule the screen’s own swirl is heard.")
        )
    if pops and placement.above_m:
        notes.append(
            (Verdict.CLEAR, f"{figure(placement.off_mouth_deg)}° off the mouth’s axis, height and side together.")
        )
    return tuple(notes)


def _to(distance_m: float, placed: Placed) -> dict[str, str]:
    """A button's distance: always in centimetres, measured where its person measures."""
    return {"distance": f"{100 * (distance_m - (GRILLE_M if placed.from_grille else 0)):.2f} cm"}


def _sentence(advice: Advice) -> str:
    before = advice.before
    air, distance_m = before.in_air, before.setup.placement.distance_m
    if air.low_cut.verdict == Verdict.BAKED_IN:
        return f"The low-cut at {air.low_cut.cut_hz:g} Hz reaches into the sound itself; nothing brings that back."
    name, strength = felt_most(air.ladder, distance_m)
    calm, best_m = air.calm_m, advice.recommended.miked_at_m
    if calm and strength <= FELT:
        where = "inside" if calm[0] <= distance_m <= calm[1] else "at the end of"
        return f"{near(distance_m)} is {where} the calm range, {near(calm[0])} to {near(calm[1])}."
    if strength <= FELT:
        return f"{near(distance_m)} is as far as this room allows: nearer or farther something is felt."
    told = f"At {near(distance_m)} {STRIP_LABELS[name].lower()} {'are' if name == 'pops' else 'is'} felt"
    if calm and abs(best_m - distance_m) < LEAST_MOVE_M:
        return f"{told}; it is calm from {near(calm[0])} to {near(calm[1])}, {REACHES[advice.recommended.conflict]}."
    if calm:
        return f"{told}; all is calm from {near(calm[0])} to {near(calm[1])}."
    if abs(best_m - distance_m) < LEAST_MOVE_M:
        return f"{told}; no distance is calm in this room, and this one comes nearest."
    return f"{told}; no distance is calm in this room, {near(best_m)} comes nearest."


LEAST_MOVE_M = 0.011
REACHES = {
    "too-low": "but there the peak stays too low for this microphone",
    "too-high": "but there the peak is too high for this microphone",
    "overload": "but there this microphone is overloaded",
    "noise": "but there the noise comes forward",
}
REACHES |= dict.fromkeys(("", "pops", "bass", "room", "sway"), "which lies close by")


def _reading(before: Outcome) -> tuple[tuple[str, str, str, str], ...]:
    """Name, figure, unit and the name it is marked with."""
    air = before.in_air
    rows = [
        ("To the capsule", near_field(before.setup.placement.distance_m), near_unit(), "distance_m"),
        ("Direct over room sound", figure(air.lead_db), "dB", "direct_to_reverberant_db"),
    ]
    marks = {"bass": "proximity_db", "pops": "pop_m_per_s", "sway": "sway_db"}
    units = {"bass": "dB", "pops": "m/s", "sibilance": "dB", "sway": "dB"}
    rows += [
        (STRIP_LABELS[name], figure(value, 1 if abs(value) < 10 else 0), units[name], marks.get(name, ""))
        for name, value in air.felt.items()
        if name != "room"
    ]
    if air.calm_m:
        low, high = air.calm_m
        rows += [
            ("Calm from", near(low), "", "calm_from_m"),
            ("Calm to", near(high), "", "calm_to_m"),
        ]
    return tuple(rows)


def _schools(setup: PartSetup, ladder: Ladder, placed: Placed) -> list[SchoolHere]:
    """Say of each school what its middle would do here, and whether it agrees with the calm range."""
    found, dry = [], setup.source.dry_enough_db
    for school in DISTANCE_SCHOOLS:
        middle = (school.low_m * school.high_m) ** 0.5
        if not ladder.distance_m[0] <= middle <= ladder.distance_m[-1]:
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
                verdict=Verdict.CLEAR if agrees else judge_place(ladder, middle, dry_enough_db=dry),
                values=_to(middle, placed),
            )
        )
    return found


def _louder(part: Part, ladder: Ladder, distance_m: float) -> Louder:
    """Step back or turn down for the loudest section, or for any passage of USUAL_RISE_DB where none is told."""
    section = rise_of(part.core_sections)
    name, rise_db = section or ("A passage", USUAL_RISE_DB)
    softer = "the softer sections" if section else "the rest"
    back = step_back_for(ladder, distance_m, rise_db)
    stepping = (_stepping(back, distance_m, rise_db),) if back else ()
    turning = (
        f"Turn the gain down {figure(rise_db, 1)} dB and stay",
        "bass and room as they were: take it by itself, with its own gain",
    )
    return Louder(told=f"{name}, {figure(rise_db, 1)} dB over {softer}:", ways=(*stepping, turning))


def _stepping(back: StepBack, distance_m: float, rise_db: float) -> tuple[str, str]:
    reached = back.fall_db > rise_db - 0.1
    short = "as loud as the rest" if reached else f"as far as the ruler goes, {figure(back.fall_db, 1)} dB"
    return (
        f"Step back, {near(distance_m)} to {near(back.distance_m)}",
        f"{short}; bass {figure(back.bass_change_db, 1, sign=True)} dB, "
        f"room {figure(back.room_change_db, 1, sign=True)} dB: another tone",
    )


def _whys(setup: PartSetup, placed: Placed) -> tuple[Why, ...]:
    pattern, pops = setup.pattern, setup.source.pops
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
                "Direct over room sound: mirror images to the third order, each losing to what its path meets, and Eyring’s tail; "
                f"calm where it stands {figure(setup.source.dry_enough_db)} dB over.",
                f"Sway of {near(SWAY_M)} to and fro: 20 log10((d + s)/(d − s)); calm up to 6 dB.",
            ),
            source="Allen and Berkley, 1979; Eyring, 1930; the limits are common practice, no source",
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
