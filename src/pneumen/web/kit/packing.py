"""The packing list: what is in which box, what is owned, what is commonly forgotten."""

import csv
import io
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from pneumen.core.kit import ASSUMED, KIND_LABELS, Item, Kit, KitInUse, KitLine, harmless
from pneumen.web.gear.services import whole_catalogue
from pneumen.web.song.models import Song
from pneumen.wording.figures import money
from pneumen.wording.kit import reason_for
from pneumen.wording.language import _

FORGOTTEN = {
    "xlr-cable": _("a second XLR cable: the one spare part that ends a session when it is missing"),
    "instrument-cable": _("a second instrument lead: they fail at the plug, in the middle of a take"),
    "shock-mount": _("a shock mount, where footsteps reach the stand"),
    "covering": _("heavy blankets, clamps and a pole: as much as a stand or two, worth more than a better microphone"),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class PackLine:
    """One line: how many, what, where from, what for, and what it costs; item_id where it has a page."""

    count: int
    name: str
    kind: str
    where: str
    price: str
    price_of_all: float
    why: str
    item_id: str
    tone: str
    mark: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Packing:
    lines: tuple[PackLine, ...]
    total: str
    boxes: tuple[str, ...]
    forgotten: tuple[str, ...]


def packing_of(kit: Kit | KitInUse, song: Song | None = None) -> Packing:
    """Return a kit as its packing list; alike lines are told once with their number."""
    counted = Counter(kit.lines)
    must, never = (song.musts, song.nevers) if song else ((), ())
    return Packing(
        lines=tuple(_line(line, count, must, never) for line, count in counted.items()),
        total=money(kit.total),
        boxes=tuple(_boxes(kit, song)),
        forgotten=tuple(FORGOTTEN[kind] for kind in kit.forgotten),
    )


def packing_as_csv(kit: Kit, song: Song) -> str:
    """Return the list as CSV; cells that a spreadsheet would take for formulas are made harmless."""
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["number", "what", "kind", _("where from"), _("price of all"), "why"])
    for line in packing_of(kit, song).lines:
        cells = [line.count, line.name, line.kind, line.where, f"{line.price_of_all:g}", line.why]
        writer.writerow([harmless(cell) if isinstance(cell, str) else cell for cell in cells])
    writer.writerow(["", "total", "", "", f"{kit.total:g}", ""])
    return out.getvalue()


def _line(line: KitLine, count: int, must: Sequence[str], never: Sequence[str]) -> PackLine:
    item = line.item
    item_id = item.id if item and not item.id.startswith(("own-", ASSUMED)) else ""
    return PackLine(
        count=count,
        name=item.name if item else KIND_LABELS[line.kind],
        kind=KIND_LABELS[line.kind],
        where="assumed" if item and item.id.startswith(ASSUMED) else _from(line),
        price=money(line.price * count),
        price_of_all=line.price * count,
        why=reason_for(line.kind),
        item_id=item_id,
        tone=item.tone if item else "",
        mark="must" if item_id in must else "never" if item_id in never else "",
    )


def _from(line: KitLine) -> str:
    """Say where a thing comes from; of what is bought, how much of its price is the delivery."""
    if line.found_in == "shop" and line.item and line.item.delivery:
        return _("to buy, {delivery} of it delivery").format(delivery=money(line.item.delivery))
    return {"owned": _("you have it"), "shop": _("to buy")}.get(
        line.found_in, _("in the box of {found_in}").format(found_in=line.found_in)
    )


def _boxes(kit: Kit | KitInUse, song: Song | None) -> list[str]:
    items = {line.item.id: line.item for line in kit.lines if line.item and line.item.in_box and not line.item.owned}
    inside = {part for item in items.values() for part in item.in_box}
    names = _names(song) if song and inside - KIND_LABELS.keys() else {}
    return [f"{item.name}: {', '.join(_inside(item, names))}" for item in items.values()]


def _names(song: Song) -> dict[str, str]:
    return {item.id: item.name for item in whole_catalogue(song.owner_id)}


def _inside(item: Item, names: dict[str, str]) -> list[str]:
    return [KIND_LABELS[part].lower() if part in KIND_LABELS else names.get(part, part) for part in item.in_box]
