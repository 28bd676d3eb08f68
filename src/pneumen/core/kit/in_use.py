"""The kit a song is set up with, whatever it was planned by: its devices, the small things they need, and the total."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from pneumen.core.kit.accessories import Missing, Piece, Shelf, SmallThing
from pneumen.core.kit.evaluate import Voice
from pneumen.core.kit.item import Item
from pneumen.core.kit.lines import KitLine, forgotten_kinds, line_of
from pneumen.core.kit.needs import Needs
from pneumen.core.kit.owned import OwnedGear
from pneumen.core.kit.search import CENT
from pneumen.core.kit.things import devices_of, served, things_of_hub, things_of_voice

ONCE = ("headphones", "phones-adapter", "software", "monitor", "line-cable")
"""What one person has once, however many hubs there are."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Chosen:
    """What one part is recorded with: a hub (None behind a USB plug) and a voice."""

    hub: Item | None
    voice: Voice


@dataclass(frozen=True, slots=True, kw_only=True)
class KitInUse:
    """Everything the song's chains need, and what is still to be paid; lacking names what no catalogue offers."""

    lines: tuple[KitLine, ...]
    total: float
    lacking: tuple[str, ...]
    forgotten: tuple[str, ...]


def kit_in_use(
    needs: Needs,
    owned: OwnedGear,
    catalogue: tuple[Item, ...],
    chosen: Sequence[Chosen],
    extras: Sequence[Item] = (),
) -> KitInUse:
    """Return the packing list of chains as they are, one for each part in the order of the needs.

    Args:
        extras: what was taken along with the devices: things to hang, the bundle that holds some of them.
    """
    bundle = next((item for item in extras if item.kind == "bundle"), None)
    shelf = Shelf(needs, owned, catalogue, bundle)
    lines: list[KitLine] = []
    lacking: list[str] = []
    hubs = {one.hub.id if one.hub else "": one.hub for one in chosen}
    for number, hub in enumerate(hubs.values()):
        if hub is not None:
            lines.append(line_of(hub, shelf.cost(hub)))
        wanted, missing = _asked(lambda hub=hub: things_of_hub(needs, shelf, hub))
        lacking += missing
        lines += [_small(thing) for thing in wanted if not (number and thing.kind in ONCE)]
    pieces, asked = shelf.pieces, list[list[SmallThing]]()
    for parts, voice in _voices(
        chosen, [-number if part.session is None else part.session for number, part in enumerate(needs.parts)]
    ):
        for one, price in devices_of(shelf, voice, needs.channels_for(parts)):
            if math.isinf(price):  # one's own, there once: no shop has the other
                lacking.append(one.kind)
            else:
                lines.append(line_of(one, price))
        wanted, missing = _asked(lambda v=voice, p=parts, s=pieces: things_of_voice(needs, shelf, v, p, s))
        lacking += missing
        asked.append(wanted)
        if needs.most_at_once > 1:  # one after the other all can use the same
            pieces = _left(pieces, wanted)
    lines += [_small(thing) for thing in served(needs, asked)]
    lines += [line_of(one, shelf.cost(one)) for one in extras]
    found = tuple(lines)
    return KitInUse(
        lines=found,
        total=round(sum(line.price for line in found), CENT),
        lacking=tuple(dict.fromkeys(lacking)),
        forgotten=tuple(forgotten_kinds(found, miked=len(needs.plugged) < len(needs.parts))),
    )


def _voices(chosen: Sequence[Chosen], sessions: Sequence[int]) -> list[tuple[tuple[int, ...], Voice]]:
    """Return each voice with the parts it serves: parts recorded at once need one each, others take turns."""
    found: dict[tuple[int, tuple[str, ...]], tuple[list[int], Voice]] = {}
    for number, one in enumerate(chosen):
        ids = tuple(device.id for device in one.voice.devices) or (f"plug-{number}",)
        copy = 0  # the first one that is not taken in this session
        while any(sessions[other] == sessions[number] for other in found.get((copy, ids), ((), None))[0]):
            copy += 1
        found.setdefault((copy, ids), ([], one.voice))[0].append(number)
    return [(tuple(parts), voice) for parts, voice in found.values()]


def _asked(things_of) -> tuple[list[SmallThing], list[str]]:  # noqa: ANN001 - a call that may find something missing
    try:
        return list(things_of()), []
    except Missing as missing:
        return [], [missing.kind]


def _left(pieces: tuple[Piece, ...], used: list[SmallThing]) -> tuple[Piece, ...]:
    left = list(pieces)
    for thing in used:
        if thing.price == 0:
            gone = next((piece for piece in left if piece.kind == thing.kind), None)
            if gone:
                left.remove(gone)
    return tuple(left)


def _small(thing: SmallThing) -> KitLine:
    return KitLine(kind=thing.kind, item=thing.item, price=thing.price, found_in=thing.found_in)
