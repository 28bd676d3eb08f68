"""Recording software beside each other: what it costs, what it is good for, what it lacks."""

from dataclasses import dataclass

from pneumen.core.kit import (
    Item,
    Needs,
    software_lacks,
)
from pneumen.web.kit.needs import gear_of_song
from pneumen.web.song.models import Song
from pneumen.wording.figures import money
from pneumen.wording.kit import software_lack
from pneumen.wording.language import _


@dataclass(frozen=True, slots=True, kw_only=True)
class Program:
    """One recording software of the catalogue against what is needed; lacks is empty where it serves."""

    name: str
    price: str
    traits: str
    lacks: str


def programs_of(song: Song, needs: Needs) -> tuple[Program, ...]:
    """Hold every recording software of the catalogue against what this song needs, those that serve first."""
    software = (item for item in gear_of_song(song)[1] if item.kind == "software")
    rows = [(item, [software_lack(one, needs, item) for one in software_lacks(needs, item)]) for item in software]
    rows.sort(key=lambda row: (bool(row[1]), row[0].cost, row[0].learning or 3, row[0].name))
    return tuple(
        Program(name=item.name, price=_software_price(item), traits=_software_traits(item), lacks="; ".join(lacks))
        for item, lacks in rows
    )


def _software_price(item: Item) -> str:
    if not item.price:
        return "free"
    return f"{money(item.price)} a month" if item.price_model == "monthly" else money(item.price)


def _software_traits(item: Item) -> str:
    burden = {1: _("learned in an evening"), 2: _("learned in days"), 3: _("takes weeks to know")}.get(
        item.learning or 3
    )
    keeps = _("keeps takes") if item.takes else _("one take a track")
    return _("{systems}; {text} tracks; {keeps}; {text_2}").format(
        systems=", ".join(item.systems),
        text=item.tracks or "?",
        keeps=keeps,
        text_2=burden or _("takes months to know"),
    )
