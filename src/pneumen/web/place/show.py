"""What the Place screen says: sentence, ladder, response, schools in this room, what to do next, why."""

from dataclasses import dataclass, replace

import numpy as np

from pneumen.core.forecast import Advice, Outcome, PartSetup, advise, distance_range, louder_along, outcome, spot_range
from pneumen.core.gear import GRILLE_M
from pneumen.core.line import low_cut_db
from pneumen.core.part import rise_of
from pneumen.core.place import (
    DISTANCE_SCHOOLS,
    FELT,
    NEAREST_SCREEN_M,
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
from pneumen.web.drawing import is_seen, those_seen
from pneumen.web.figures import Figures, figures_of
from pneumen.web.gain.todo import Todo, todo_of
from pneumen.web.gain.why import Why
from pneumen.web.part.models import Part
from pneumen.web.place.picture import NARROW, STRIP_LABELS, WIDE, LadderPicture, draw_ladder
from pneumen.web.place.services import Placing
from pneumen.web.place.start import StartingZones, starting_zones
from pneumen.web.place.why import whys_of_place
from pneumen.web.settle import settle
from pneumen.wording.figures import figure
from pneumen.wording.language import _
from pneumen.wording.lengths import calm_told, near, near_field, near_unit

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
    """All the Place screen shows; figures is None while something is only tried out, whys while it is folded away."""

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
    whys: tuple[Why, ...] | None
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
        whys=whys_of_place(setup, placed.sheet_m) if is_seen("why") else None,
        place_origin=part.place_origin,
    )


def _pair_told(pair: StereoPair | None) -> str:
    """Describe a pair; nothing where one microphone stands alone."""
    if pair is None:
        return ""
    apart = f"{near(pair.spacing_m)} apart" if pair.spacing_m else _("at one point")
    return _("Two microphones {apart}, {between_deg}° between their axes, both gains alike.").format(
        apart=apart, between_deg=figure(pair.between_deg)
    )


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
        note = _("{lowest_note_db} dB off the lowest note, {lowest_note_hz:.0f} Hz").format(
            lowest_note_db=figure(low_cut.lowest_note_db, 1), lowest_note_hz=low_cut.lowest_note_hz
        )
        told = _(
            "A low-cut at {low_cut_hz:g} Hz takes {note}, and it stays in the file: the same cut can be made"
        ).format(low_cut_hz=placement.low_cut_hz, note=note)
        notes.append(
            (
                low_cut.verdict,
                _("{told} afterwards, never undone. Off, or 80 Hz at most for what plays low.").format(told=told),
            )
        )
    if pops and placement.pop_screen and placement.screen_at_m < NEAREST_SCREEN_M:
        notes.append(
            (
                Verdict.WATCH,
                _("Less than {nearest_screen_m} before the capsule the screen’s own swirl is heard.").format(
                    nearest_screen_m=near(NEAREST_SCREEN_M)
                ),
            )
        )
    if pops and placement.above_m:
        notes.append(
            (
                Verdict.CLEAR,
                _("{off_mouth_deg}° off the mouth’s axis, height and side together.").format(
                    off_mouth_deg=figure(placement.off_mouth_deg)
                ),
            )
        )
    return tuple(notes)


def _to(distance_m: float, placed: Placed) -> dict[str, str]:
    """A button's distance: always in centimetres, measured where its person measures."""
    return {"distance": f"{100 * (distance_m - (GRILLE_M if placed.from_grille else 0)):.2f} cm"}


def _sentence(advice: Advice) -> str:
    before = advice.before
    air, distance_m = before.in_air, before.setup.placement.distance_m
    if air.low_cut.verdict == Verdict.BAKED_IN:
        return _("The low-cut at {cut_hz:g} Hz reaches into the sound itself; nothing brings that back.").format(
            cut_hz=air.low_cut.cut_hz
        )
    name, strength = felt_most(air.ladder, distance_m)
    calm, best_m = air.calm_m, advice.recommended.miked_at_m
    nearest_m, farthest_m = spot_range(before.setup)
    if strength <= FELT and not nearest_m - LEAST_MOVE_M <= distance_m <= farthest_m + LEAST_MOVE_M:
        return _("{distance} is {where} this spot is meant for, {nearest} to {farthest}: {what}.").format(
            distance=near(distance_m),
            where=_("nearer than") if distance_m < nearest_m else _("farther than"),
            nearest=near(nearest_m),
            farthest=near(farthest_m),
            what=_("it hears less of the whole") if distance_m < nearest_m else _("another one may suit better"),
        )
    if calm and strength <= FELT and near(calm[0]) != near(calm[1]):
        where = "inside" if calm[0] <= distance_m <= calm[1] else _("at the end of")
        return _("{distance_m} is {where} the calm range, {calm} to {calm_2}.").format(
            distance_m=near(distance_m), where=where, calm=near(calm[0]), calm_2=near(calm[1])
        )
    if strength <= FELT:
        return _(
            "At {distance} nothing is felt; elsewhere between {nearest} and {farthest}, which this spot allows, something is."
        ).format(distance=near(distance_m), nearest=near(nearest_m), farthest=near(farthest_m))
    told = (_("At {distance} {what} are felt") if name == "pops" else _("At {distance} {what} is felt")).format(
        distance=near(distance_m), what=STRIP_LABELS[name].lower()
    )
    if calm and abs(best_m - distance_m) < LEAST_MOVE_M:
        return _("{told}; it is {calm}, {reaches}.").format(
            told=told, calm=calm_told(*calm), reaches=REACHES[advice.recommended.conflict]
        )
    if calm:
        return _("{told}; all is {calm}.").format(told=told, calm=calm_told(*calm))
    if abs(best_m - distance_m) < LEAST_MOVE_M:
        return _("{told}; no distance is calm in this room, and this one comes nearest.").format(told=told)
    return _("{told}; no distance is calm in this room, {best_m} comes nearest.").format(told=told, best_m=near(best_m))


LEAST_MOVE_M = 0.011
REACHES = {
    "too-low": _("but there the peak stays too low for this microphone"),
    "too-high": _("but there the peak is too high for this microphone"),
    "overload": _("but there this microphone is overloaded"),
    "noise": _("but there the noise comes forward"),
}
REACHES |= dict.fromkeys(("", "pops", "bass", "room", "sway"), _("which lies close by"))


def _reading(before: Outcome) -> tuple[tuple[str, str, str, str], ...]:
    """Name, figure, unit and the name it is marked with."""
    air = before.in_air
    rows = [
        (_("To the capsule"), near_field(before.setup.placement.distance_m), near_unit(), "distance_m"),
        (_("Direct over room sound"), figure(air.lead_db), "dB", "direct_to_reverberant_db"),
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
            (_("Calm from"), near(low), "", "calm_from_m"),
            (_("Calm to"), near(high), "", "calm_to_m"),
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
        told = _("room {here} dB, bass {here_2} dB, sway {here_3} dB").format(
            here=figure(here["room"]), here_2=figure(here["bass"], sign=True), here_3=figure(here["sway"])
        )
        found.append(
            SchoolHere(
                label=school.label,
                range=_("{low_m} to {high_m}").format(low_m=near(school.low_m), high_m=near(school.high_m)),
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
    softer = _("the softer sections") if section else _("the rest")
    back = step_back_for(ladder, distance_m, rise_db)
    stepping = (_stepping(back, distance_m, rise_db),) if back else ()
    turning = (
        _("Turn the gain down {rise_db} dB and stay").format(rise_db=figure(rise_db, 1)),
        _("bass and room as they were: take it by itself, with its own gain"),
    )
    return Louder(
        told=_("{name}, {rise_db} dB over {softer}:").format(name=name, rise_db=figure(rise_db, 1), softer=softer),
        ways=(*stepping, turning),
    )


def _stepping(back: StepBack, distance_m: float, rise_db: float) -> tuple[str, str]:
    reached = back.fall_db > rise_db - 0.1
    short = (
        _("as loud as the rest")
        if reached
        else _("as far as the ruler goes, {fall_db} dB").format(fall_db=figure(back.fall_db, 1))
    )
    return (
        _("Step back, {distance_m} to {distance_m_2}").format(
            distance_m=near(distance_m), distance_m_2=near(back.distance_m)
        ),
        _("{short}; bass {bass_change_db} dB, room {room_change_db} dB: another tone").format(
            short=short,
            bass_change_db=figure(back.bass_change_db, 1, sign=True),
            room_change_db=figure(back.room_change_db, 1, sign=True),
        ),
    )
