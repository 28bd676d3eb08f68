"""What the Room screen says: sentence, plan, reverberation time, what is heard of the room, what to do next, why."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from django.db.models import prefetch_related_objects

from pneumen.core.forecast import (
    Outcome,
    PartSetup,
    critical_distance_of,
    first_echoes_of,
    heard_of_room,
)
from pneumen.core.place import direction
from pneumen.core.room import (
    BANDS_HZ,
    FURNITURE,
    MATERIALS,
    Box,
    Boxiness,
    Comb,
    Opening,
    Placed,
    boxiness_of,
    comb_of,
    hears,
    likely_walls,
    reverberation_times_eyring_s,
    room_map,
    schroeder_frequency_hz,
    stood_in,
    table_echo,
)
from pneumen.core.verdict import Verdict
from pneumen.web.drawing import those_seen
from pneumen.web.figures import Figures, figures_of
from pneumen.web.gain.why import Why
from pneumen.web.part.models import Part
from pneumen.web.room.cases import CaseTold, cases_told
from pneumen.web.room.ground import Ground, draw_ground
from pneumen.web.room.models import Room
from pneumen.web.room.outward import OutwardRow, outward_rows
from pneumen.web.room.picture import NARROW, WIDE, Plan, draw_plan
from pneumen.web.room.quarrel import SchoolTold, schools_told
from pneumen.web.room.reading import hours_of, noise_bands_of
from pneumen.web.room.sideview import ReverberationTimes, Side, draw_reverberation_times, draw_side
from pneumen.web.room.why import whys_of_room
from pneumen.web.settle import outcome_of
from pneumen.wording.figures import figure
from pneumen.wording.language import _
from pneumen.wording.lengths import far, near
from pneumen.wording.room import faults_told, lead_told, misfits_told, noise_told, wall_told


@dataclass(frozen=True, slots=True, kw_only=True)
class Echo:
    """One echo worth knowing: from where, how late and strong, and what comb it makes."""

    surface: str
    late: str
    strength: str
    comb: str


@dataclass(frozen=True, slots=True, kw_only=True)
class RoomScreen:
    """All the Room screen shows; figures is None while something is only tried out."""

    figures: Figures | None
    verdict: Verdict
    sentence: str
    room: Room
    here: PartSetup
    plans: tuple[Plan, ...]
    side: Side
    rings: ReverberationTimes
    reading: tuple[tuple[str, str, str, str], ...]
    echoes: tuple[Echo, ...]
    boxiness: Boxiness
    boxed_in: str
    hours: tuple[tuple[str, str, bool], ...]
    noise_bands: tuple[tuple[str, str], ...]
    outwards: tuple[OutwardRow, ...]
    schools: tuple[SchoolTold, ...]
    cases: tuple[CaseTold, ...]
    clap_told: str
    clap_in_use: bool
    whys: tuple[Why, ...]
    placed: tuple[tuple[int, str, Placed], ...]
    openings: tuple[tuple[int, str, Opening], ...]

    @property
    def too_loud_outwards(self) -> bool:
        """Whether somebody hears this part at an hour at which they should not."""
        return any(one.verdict != Verdict.CLEAR for one in self.outwards)


def room_screen(part: Part, **tried: float) -> RoomScreen:
    """Return what the Room screen shows, as stored or with another place tried out.

    Args:
        tried: fields of Placement, as settle takes them.
    """
    room = part.song.room
    prefetch_related_objects([room], "neighbours")
    found = outcome_of(part, **tried)
    here, layout = found.setup, room.layout
    place, box = here.placement, layout.box
    lead_db = heard_of_room(here).lead_db
    echoes = _echoes(here)
    boxiness = boxiness_of(box, place.mouth_m, place.microphone_m, here.pattern)
    return RoomScreen(
        figures=None if tried else figures_of(part.pk, found),
        verdict=_verdict(found),
        sentence=_sentence(part, here, lead_db, echoes),
        room=room,
        here=here,
        plans=tuple(draw_plan(room, here, _ground(here), frame, lead_db) for frame in those_seen(WIDE, NARROW)),
        side=draw_side(layout, here),
        rings=draw_reverberation_times(
            reverberation_times_eyring_s(layout.bare_box),
            reverberation_times_eyring_s(box),
            tuple(room.clap["t20_s"]) if room.clap else None,
        ),
        reading=_reading(here, lead_db),
        echoes=echoes[:4],
        boxiness=boxiness,
        boxed_in=faults_told(boxiness),
        schools=schools_told(part, found),
        hours=hours_of(here),
        noise_bands=noise_bands_of(here),
        outwards=outward_rows(part),
        cases=cases_told(part, here),
        clap_told=_clap_told(room),
        clap_in_use=room.absorption_scale != 1.0,
        whys=whys_of_room(room, here, lead_db, boxiness),
        placed=tuple((row.pk, FURNITURE[row.kind].label, row.to_core()) for row in room.furniture.all()),
        openings=tuple((row.pk, MATERIALS[row.kind].label, row.to_core()) for row in room.openings.all()),
    )


def _ground(here: PartSetup) -> Ground:
    """What lies under the plan: a step to the side leaves it as it is."""
    place = here.placement
    return _ground_of(
        here.drawn_space.box,
        mouth_m=place.height_m,
        microphone_m=place.microphone_m[2],
        distance_m=round(place.across_m, 3),
        facing=direction(round(place.facing_deg)),
        pattern=here.pattern,
        source_factor=here.source_factor,
        backwards=here.source.radiates_back,
    )


@lru_cache(maxsize=64)
def _ground_of(box: Box, **how: Any) -> Ground:
    return draw_ground(room_map(box, **how), box.size_m[1])


def _verdict(found: Outcome) -> Verdict:
    if found.air is None:
        return Verdict.CLEAR
    verdict = found.room_verdict
    return Verdict.WATCH if verdict == Verdict.CLEAR and _in_the_way(found.setup) else verdict


def _in_the_way(here: PartSetup) -> Placed | None:
    return stood_in(here.drawn_space.furniture, here.placement.mouth_m)


def _sentence(part: Part, here: PartSetup, lead_db: float, echoes: tuple[Echo, ...]) -> str:
    if part.is_plugged:
        return _("Plugged in: no room reaches the file. The plan shows what a microphone would hear.")
    if not here.fits_its_room:
        return misfits_told([here.source], part.song.room.size_m)
    wardrobe = _in_the_way(here)
    if wardrobe:
        return _("{name} would stand in the {lower}: move one of them.").format(
            name=part.name, lower=wardrobe.furniture.label.split(",")[0].lower()
        )
    strongest = _("; the {surface} gives the strongest echo").format(surface=echoes[0].surface) if echoes else ""
    told = lead_told(here.placement.distance_m, lead_db, here.source.dry_enough_db) + strongest
    return f"{told}{noise_told(heard_of_room(here).noise_dba)}."


def _reading(here: PartSetup, lead_db: float) -> tuple[tuple[str, str, str, str], ...]:
    """Name, figure, unit and the name it is marked with."""
    rt60_s, box = here.space.rt60_s, here.drawn_space.box
    critical_m = critical_distance_of(here)
    noise = heard_of_room(here).noise_dba
    return (
        (_("Direct over room sound"), figure(lead_db), "dB", "direct_to_reverberant_db"),
        (
            _("Critical distance (statistical)"),
            near(critical_m) if critical_m else "nowhere",
            "",
            "critical_distance_m",
        ),
        (_("Reverberation time (RT60)"), figure(rt60_s, 2), "s", "rt60_s"),
        (_("Noise at the microphone"), figure(noise), "dBA", "room_noise_dba"),
        ("Volume", figure(box.volume_m3, 1), "m³", ""),
        (_("Single modes up to"), figure(schroeder_frequency_hz(box.volume_m3, rt60_s)) if rt60_s else "–", "Hz", ""),
    )


def _echoes(here: PartSetup) -> tuple[Echo, ...]:
    """The first reflections as this microphone hears them, tables too, the strongest first."""
    rows = []
    for found in first_echoes_of(here):
        share = found.share[BANDS_HZ.index(1000)]
        if share < LEAST_SHARE:
            continue
        comb = comb_of(found.delay_s, min(share**0.5, 0.99))
        rows.append((share, _echo_row(wall_told(found.wall), found.delay_s, share**0.5, comb)))
    rows += _table_echoes(here)
    return tuple(echo for _rest, echo in sorted(rows, key=lambda row: -row[0]))


LEAST_SHARE = 1e-5


def _table_echoes(here: PartSetup) -> list[tuple[float, Echo]]:
    """What a table between or under mouth and microphone throws back, as this microphone hears it."""
    rows = []
    for piece in here.drawn_space.furniture:
        found = table_echo(piece, here.placement.mouth_m, here.placement.microphone_m)
        if found is None:
            continue
        gain = found.gain * hears(
            here.pattern, here.placement.microphone_m, here.placement.axis, (*found.at_m, piece.furniture.size_m[2])
        )
        comb = comb_of(found.delay_s, min(gain, 0.99))
        rows.append((gain**2, _echo_row(piece.furniture.label.split(",")[0].lower(), found.delay_s, gain, comb)))
    return rows


def _echo_row(surface: str, delay_s: float, gain: float, comb: Comb) -> Echo:
    return Echo(
        surface=surface,
        late=_("{delay_s} ms later").format(delay_s=figure(1000 * delay_s, 1)),
        strength=f"{figure(20 * math.log10(max(gain, 1e-4)))} dB",
        comb=_("first notch {first_notch_hz} Hz, {notch_db} dB; ripple {ripple_db} dB").format(
            first_notch_hz=figure(comb.first_notch_hz),
            notch_db=figure(comb.notch_db, 1),
            ripple_db=figure(comb.ripple_db, 1),
        ),
    )


def _clap_told(room: Room) -> str:
    if not room.clap:
        return ""
    rt60_s, flutter = room.clap["rt60_s"], room.clap["flutter"]
    told = (
        _("A clap measured {rt60_s} s in the middle").format(rt60_s=figure(rt60_s, 2))
        if rt60_s
        else _("The clap was too faint for a reverberation time in the middle")
    )
    computed = reverberation_times_eyring_s(room.box)
    if rt60_s and computed[2] and computed[3]:
        told += _("; computed are {computed} s").format(computed=figure((computed[2] + computed[3]) / 2, 2))
    limited = [str(band) for band, why in zip(room.clap["bands_hz"], room.clap["limited_by"], strict=True) if why]
    told += _(". Not told: {limited} Hz, lost in noise or filter").format(limited=", ".join(limited)) if limited else ""
    if flutter["found"]:
        told += _flutter_told(room, flutter["spacing_m"], room.clap.get("flutter_or_m", ()))
    return f"{told}."


def _flutter_told(room: Room, spacing_m: float, or_m: Sequence[float]) -> str:
    """Tell between which of the drawn walls the echoes run; where none fits, what else they may mean."""
    walls = {"west and east": room.size_x_m, "south and north": room.size_y_m, "floor and ceiling": room.size_z_m}
    found = likely_walls(spacing_m, or_m, walls)
    if found:
        name, distance_m = found
        return _(". Flutter: echoes between {name}, {distance_m} apart: hang something on one of them").format(
            name=name, distance_m=far(distance_m)
        )
    others = "".join(_(", or {one}").format(one=far(one)) for one in or_m)
    return _(". Flutter: echoes between walls {spacing_m} apart{others}, which fits no pair here").format(
        spacing_m=far(spacing_m), others=others
    )
