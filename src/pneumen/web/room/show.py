"""What the Room screen says: sentence, plan, reverberation time, what is heard of the room, what to do next, why."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from pneumen.core.forecast import (
    Outcome,
    PartSetup,
    critical_distance_of,
    heard_of_room,
)
from pneumen.core.place import direction
from pneumen.core.room import (
    FURNITURE,
    MATERIALS,
    Box,
    Opening,
    Placed,
    likely_walls,
    reverberation_times_eyring_s,
    room_map,
    schroeder_frequency_hz,
    stood_in,
)
from pneumen.core.verdict import Verdict
from pneumen.web.drawing import is_seen, those_seen
from pneumen.web.figures import Figures, figures_of
from pneumen.web.gain.why import Why
from pneumen.web.part.models import Part
from pneumen.web.room.cases import CaseTold, cases_told
from pneumen.web.room.ground import Ground, draw_ground
from pneumen.web.room.heard import Echo, HeardOfRoom, boxiness_here, echoes_told, heard_of_room_told
from pneumen.web.room.models import Room
from pneumen.web.room.picture import NARROW, WIDE, Plan, draw_plan
from pneumen.web.room.quarrel import SchoolTold, schools_told
from pneumen.web.room.sideview import Side, draw_side
from pneumen.web.room.why import whys_of_room
from pneumen.web.settle import outcome_of
from pneumen.wording.figures import figure
from pneumen.wording.language import _
from pneumen.wording.lengths import far, near
from pneumen.wording.room import lead_told, misfits_told, noise_told


@dataclass(frozen=True, slots=True, kw_only=True)
class RoomScreen:
    """All the Room screen shows; figures is None while something is only tried out, heard and whys while folded away."""

    figures: Figures | None
    verdict: Verdict
    sentence: str
    room: Room
    here: PartSetup
    plans: tuple[Plan, ...]
    side: Side
    reading: tuple[tuple[str, str, str, str], ...]
    schools: tuple[SchoolTold, ...]
    cases: tuple[CaseTold, ...]
    clap_told: str
    clap_in_use: bool
    heard: HeardOfRoom | None
    whys: tuple[Why, ...] | None
    placed: tuple[tuple[int, str, Placed], ...]
    openings: tuple[tuple[int, str, Opening], ...]


def room_screen(part: Part, **tried: float) -> RoomScreen:
    """Return what the Room screen shows, as stored or with another place tried out.

    Args:
        tried: fields of Placement, as settle takes them.
    """
    room = part.song.room
    found = outcome_of(part, **tried)
    here, layout = found.setup, room.layout
    lead_db = heard_of_room(here).lead_db
    echoes = echoes_told(here)
    return RoomScreen(
        figures=None if tried else figures_of(part.pk, found),
        verdict=_verdict(found),
        sentence=_sentence(part, here, lead_db, echoes),
        room=room,
        here=here,
        plans=tuple(draw_plan(room, here, _ground(here), frame, lead_db) for frame in those_seen(WIDE, NARROW)),
        side=draw_side(layout, here),
        reading=_reading(here, lead_db),
        schools=schools_told(part, found),
        cases=cases_told(part, here),
        clap_told=_clap_told(room),
        clap_in_use=room.absorption_scale != 1.0,
        heard=heard_of_room_told(part, here, echoes) if is_seen("heard") else None,
        whys=whys_of_room(room, here, lead_db, boxiness_here(here)) if is_seen("why") else None,
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
