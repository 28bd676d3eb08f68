"""Where to start: the zones of the instrument in this room, by taste."""

from dataclasses import dataclass

from pneumen.core.forecast import PartSetup, ZoneHere, zones_here
from pneumen.core.place import TASTES, Zone, body_of
from pneumen.web.part.models import Part
from pneumen.web.place.bodies import BodyPicture, draw_body
from pneumen.web.settle import best_zone
from pneumen.wording.figures import figure
from pneumen.wording.language import _
from pneumen.wording.lengths import near

DECIDED = {
    "habit": _("its usual distance"),
    "room": _("as far as this room allows"),
    "bass": _("far enough for the bass"),
    "pops": _("out of the air of P and B"),
    "sway": _("no nearer, for swaying"),
    "overload": _("far enough for this microphone"),
    "too-high": _("far enough for this microphone"),
    "too-low": _("close, for level"),
    "noise": _("close, over the noise"),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class ZoneRow:
    """A zone as it is offered: its number, what it hears, how far off, what it costs here."""

    number: int
    slug: str
    label: str
    sound: str
    range: str
    told: str
    caution: str
    chosen: bool
    best: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class StartingZones:
    """The body drawn, its zones, and the tastes to choose from (slug, label, whether chosen)."""

    picture: BodyPicture
    rows: tuple[ZoneRow, ...]
    tastes: tuple[tuple[str, str, bool], ...]


def starting_zones(part: Part, setup: PartSetup) -> StartingZones | None:
    """Return what the Place screen shows of a part's instrument; None where none is drawn."""
    body, found = body_of(part.source), zones_here(setup, part.taste)
    if body is None:
        return None
    chosen, best = setup.zone.slug if setup.zone else "", best_zone(part, setup)
    by_slug = {one.zone.slug: one for one in found}
    ordered = tuple(by_slug[zone.slug] for zone in body.zones)  # numbers keep their places whatever the taste
    return StartingZones(
        picture=draw_body(body, ordered, chosen),
        rows=tuple(_row(number, one, chosen, best) for number, one in enumerate(ordered, start=1)),
        tastes=tuple((slug, label, slug == part.taste) for slug, (label, _rest) in TASTES.items()),
    )


def _row(number: int, here: ZoneHere, chosen: str, best: Zone | None) -> ZoneRow:
    zone = here.zone
    return ZoneRow(
        number=number,
        slug=zone.slug,
        label=zone.label,
        sound=zone.sound,
        range=_("{near_m} to {far_m}").format(near_m=near(zone.near_m), far_m=near(zone.far_m)),
        told=_("here {distance_m}, {decided}: room {lead_db} dB, bass {bass_db} dB").format(
            distance_m=near(here.distance_m),
            decided=DECIDED[here.decided_by],
            lead_db=figure(-here.lead_db),
            bass_db=figure(here.bass_db, sign=True),
        ),
        caution=zone.caution,
        chosen=zone.slug == chosen,
        best=best is not None and zone.slug == best.slug,
    )
