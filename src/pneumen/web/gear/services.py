"""A person's catalogue: the built-in one with their changes over it."""

from collections.abc import Iterable
from dataclasses import replace
from itertools import count
from typing import Any, Final

import msgspec
from django.db import transaction
from django.utils.text import slugify

from pneumen.core.errors import UnknownName
from pneumen.core.kit import Changes, Item, built_in_catalogue, changes_between, item_from_cells
from pneumen.web.gear.models import GearImport, GearMark
from pneumen.wording.language import _

HAVE = ("", "owned", "borrowed")
ROWS_AT_ONCE: Final = 500


def marks_of(owner: Any) -> dict[str, GearMark]:  # noqa: ANN401 - whichever user model is set
    return {mark.item_id: mark for mark in GearMark.objects.mine(owner)}


def whole_catalogue(owner: Any) -> tuple[Item, ...]:  # noqa: ANN401 - whichever user model is set
    """Return every item, hidden ones too, as its person changed it; removed ones are gone."""
    return _with_marks(marks_of(owner))


def catalogue_and_gear_at_hand(said: Iterable[GearMark]) -> tuple[tuple[Item, ...], tuple[Item, ...]]:
    """Return the items a plan may choose from (all but the hidden ones), and those of them owned or borrowed.

    Args:
        said: what their person says of them.
    """
    marks = {mark.item_id: mark for mark in said}
    items = tuple(item for item in _with_marks(marks) if item.id not in marks or not marks[item.id].hidden)
    return items, tuple(item for item in items if item.id in marks and marks[item.id].have)


def _with_marks(marks: dict[str, GearMark]) -> tuple[Item, ...]:
    built_in = {item.id: item for item in built_in_catalogue()}
    changed = {name: mark.item for name, mark in marks.items() if mark.item}
    removed = {name for name, mark in marks.items() if mark.removed}
    return tuple(item for name, item in (built_in | changed).items() if name not in removed)


@transaction.atomic
def set_mark(owner: Any, item_id: str, *, have: str | None = None, hidden: bool | None = None) -> None:  # noqa: ANN401
    """Say that an item is owned, borrowed or neither, or hide it.

    Raises:
        UnknownName: for an item that is not there, or another word.
    """
    _require_there(owner, item_id)
    if have is not None and have not in HAVE:
        raise UnknownName("have", have, HAVE)
    mark, _rest = GearMark.objects.mine(owner).get_or_create(owner=owner, item_id=item_id)
    mark.have = mark.have if have is None else have
    mark.hidden = mark.hidden if hidden is None else hidden
    mark.save()


@transaction.atomic
def save_item(owner: Any, cells: dict[str, str]) -> Item:  # noqa: ANN401 - whichever user model is set
    """Store an item as typed; without an id it is a new one, named after what it is called.

    Raises:
        BadCatalogue: with every fault by its column.
    """
    there = {item.id for item in whole_catalogue(owner)}
    if not cells.get("id"):
        base = f"my-{slugify(cells.get('name', ''))[:50] or cells.get('kind', 'item')}"
        numbered = (f"{base}-{number}" for number in count(2))
        cells = cells | {"id": base if base not in there else next(name for name in numbered if name not in there)}
    item = item_from_cells(cells)
    _store(owner, item)
    return item


@transaction.atomic
def set_price(owner: Any, item_id: str, price: float) -> None:  # noqa: ANN401 - whichever user model is set
    """Change what an item costs.

    Raises:
        UnknownName: for an item that is not there.
        OutOfRange: for a price that cannot be.
    """
    item = _require_there(owner, item_id)
    _store(owner, replace(item, price=price))


def _require_there(owner: Any, item_id: str) -> Item:  # noqa: ANN401 - whichever user model is set
    for item in whole_catalogue(owner):
        if item.id == item_id:
            return item
    raise UnknownName("item", item_id, (_("an id of the catalogue"),))


def _store(owner: Any, item: Item) -> None:  # noqa: ANN401 - whichever user model is set
    GearMark.objects.update_or_create(owner=owner, item_id=item.id, defaults={"item": item, "removed": False})


@transaction.atomic
def keep_for_review(owner: Any, file_name: str, items: tuple[Item, ...]) -> GearImport:  # noqa: ANN401
    """Keep a catalogue that was read until its person says what to do with it; an older one goes."""
    GearImport.objects.mine(owner).delete()
    document = [msgspec.to_builtins(item) for item in items]
    return GearImport.objects.create(owner=owner, file_name=file_name[:200], document=document)


def items_of(kept: GearImport) -> tuple[Item, ...]:
    return tuple(msgspec.convert(value, Item) for value in kept.document)


def changes_of_import(owner: Any, items: tuple[Item, ...]) -> Changes:  # noqa: ANN401 - whichever user model is set
    """Return what an import would add, change and remove."""
    return changes_between(whole_catalogue(owner), items)


def _put(owner: Any, fields: tuple[str, ...], said: Iterable[tuple[str, dict[str, Any]]]) -> None:  # noqa: ANN401
    """Say something of many items at once; what else is said of them stays."""
    GearMark.objects.bulk_create(
        [GearMark(owner_id=getattr(owner, "pk", owner), item_id=name, **values) for name, values in said],
        batch_size=ROWS_AT_ONCE,
        update_conflicts=True,
        unique_fields=["owner", "item_id"],
        update_fields=fields,
    )


@transaction.atomic
def import_catalogue(owner: Any, items: tuple[Item, ...]) -> Changes:  # noqa: ANN401 - whichever user model is set
    """Take a whole catalogue in: what it leaves out is removed, marks of what stays are kept."""
    changes = changes_of_import(owner, items)
    built_in = {item.id for item in built_in_catalogue()}
    new = (*changes.added, *(after for _before, after, _fields in changes.changed))
    gone = [item.id for item in changes.removed]
    _put(owner, ("item", "removed"), ((item.id, {"item": item}) for item in new))
    _put(owner, ("removed",), ((name, {"removed": True}) for name in gone if name in built_in))
    own = [name for name in gone if name not in built_in]
    for start in range(0, len(own), ROWS_AT_ONCE):
        GearMark.objects.mine(owner).filter(item_id__in=own[start : start + ROWS_AT_ONCE]).delete()
    return changes


@transaction.atomic
def forget_changes(owner: Any) -> None:  # noqa: ANN401 - whichever user model is set
    """Go back to the built-in catalogue; what is owned, borrowed or hidden stays so."""
    GearMark.objects.mine(owner).filter(have="", hidden=False).delete()
    GearMark.objects.mine(owner).update(item=None, removed=False)
