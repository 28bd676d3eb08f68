"""A column that holds an item of the catalogue."""

from functools import lru_cache
from typing import TYPE_CHECKING, Any, Final

import msgspec
from django.db import models

from pneumen.core.kit import Item

MOST_KEPT: Final = 25_000
"""More than a catalogue may hold: a page asks for the same items again and again."""


if TYPE_CHECKING:
    ItemColumn = models.TextField[Item | None, Item | None]
else:
    ItemColumn = models.TextField


class ItemField(ItemColumn):
    """An item as JSON text, read into the core's own value."""

    def from_db_value(self, value: str | None, *_: Any) -> Item | None:
        return None if value is None else _item_of(value)

    def to_python(self, value: Any) -> Item | None:  # noqa: ANN401 - whatever a fixture holds
        return value if value is None or isinstance(value, Item) else _item_of(str(value))

    def get_prep_value(self, value: Item | None) -> str | None:
        return None if value is None else msgspec.json.encode(value).decode()


@lru_cache(maxsize=MOST_KEPT)
def _item_of(text: str) -> Item:
    return msgspec.json.decode(text, type=Item)
