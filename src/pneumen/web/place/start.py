"""Where to start: the zones of the instrument in this room, by taste."""

from dataclasses import dataclass

from pneumen.core.place import TASTES, ZoneHere, body_of, zones_here
from pneumen.web.lengths import near
from pneumen.web.place.bodies import BodyPicture, draw_body
from pneumen.web.song.models import Part
from pneumen.web.song.outlook import chain_of_part
from pneumen.web.wording import figure

DECIDED = {
    "habit": "its usual distance",
    "taste": "a little closer, for warmth",
    "room": "as far as this room allows",
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


def zones_of(part: Part) -> tuple[ZoneHere, ...]:
    """Return a part's zones in its room, the best start first; none where no body is drawn for it."""
    body = body_of(part.source)
    if body is None:
        return ()
    pattern = chain_of_part(part).microphone.pattern
    return zones_here(body, part.source_facts, part.song.room.to_core(), pattern=pattern, taste=part.taste)


def starting_zones(part: Part) -> StartingZones | None:
    """Return what the Place screen shows of a part's instrument; None where none is drawn."""
    body, found = body_of(part.source), zones_of(part)
    if body is None:
        return None
    by_slug = {one.zone.slug: one for one in found}
    ordered = tuple(by_slug[zone.slug] for zone in body.zones)  # numbers keep their places whatever the taste
    return StartingZones(
        picture=draw_body(body, ordered, part.zone),
        rows=tuple(_row(number, one, part.zone, found[0]) for number, one in enumerate(ordered, start=1)),
        tastes=tuple((slug, label, slug == part.taste) for slug, (label, _) in TASTES.items()),
    )


def _row(number: int, here: ZoneHere, chosen: str, best: ZoneHere) -> ZoneRow:
    zone = here.zone
    return ZoneRow(
        number=number,
        slug=zone.slug,
        label=zone.label,
        sound=zone.sound,
        range=f"{near(zone.near_m)} to {near(zone.far_m)}",
        told=f"here {near(here.distance_m)}, {DECIDED[here.decided_by]}: room {figure(-here.lead_db)} dB, "
        f"bass {figure(here.bass_db, sign=True)} dB",
        caution=zone.caution,
        chosen=zone.slug == chosen,
        best=here is best,
    )
