"""The open formats of a catalogue, CSV and JSON: read whole or not at all, written without loss.

CSV: UTF-8 (a byte order mark is allowed), one line an item, columns in any order by their names in ITEM_FIELDS; lists
are parted by spaces; yes or no; a point for decimals. JSON: {"items": [...]} with the same names, empty ones left out.
"""

import csv
import io
import re
import unicodedata
from collections import Counter
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any, Final

import msgspec

from pneumen.core.errors import BadCatalogue, BadDocument, PneumenError
from pneumen.core.kit.item import ITEM_FIELDS, Item
from pneumen.core.kit.kinds import FACTS, LIST, NUMBER, WHOLE, YES_NO
from pneumen.core.reader import decode_object, read_as

MOST_BYTES: Final = 10_000_000
MOST_ITEMS: Final = 20_000
MOST_FAULTS: Final = 50
NEEDED: Final = ("id", "kind", "name", "price")
FORMULA_START: Final = ("=", "+", "-", "@", "\t", "\r")
"""A spreadsheet takes a cell that begins so for a formula: text gets an apostrophe, and loses it on reading."""
ROW_ENDS: Final = ("Cc", "Zl", "Zp")
"""Kinds of letters that may end a row: control characters, line and paragraph separators."""
WORDED: Final = ("name", "note")
"""Free text keeps its spaces."""
WORDS: Final = {"yes": True, "true": True, "1": True, "no": False, "false": False, "0": False}
_SHAPES: Final = {"price": NUMBER, "delivery": NUMBER, "in_box": LIST} | {
    name: fact.shape for name, fact in FACTS.items()
}


Fault = tuple[str, str, str]
"""Line or item, column, and what is wrong there."""


def catalogue_from_csv(document: bytes) -> tuple[Item, ...]:
    """Read a catalogue from CSV.

    Raises:
        BadCatalogue: with every fault by line and column.
    """
    rows = csv.DictReader(io.StringIO(_text(document), newline=""), strict=True)
    faults: list[Fault] = []
    items: list[Item] = []
    try:
        columns = [(name or "").strip() for name in rows.fieldnames or ()]
        rows.fieldnames = columns
        _check_columns(columns)
        for row in rows:
            item = _item_of_row(f"line {rows.line_num}", row, faults)
            items += [item] if item else []
            if len(items) > MOST_ITEMS or len(faults) > MOST_FAULTS:
                break
    except csv.Error as error:
        faults.append((f"line {rows.line_num}", "", f"this is not CSV: {error}"))
    return _whole(items, faults)


def catalogue_from_json(document: bytes) -> tuple[Item, ...]:
    """Read a catalogue from JSON.

    Raises:
        BadCatalogue: with every fault by item and field.
    """
    _check_size(document)
    faults: list[Fault] = []
    items: list[Item] = []
    try:
        listed = decode_object(document).get("items")
    except BadDocument as error:
        raise BadCatalogue((("the file", "", str(error)),)) from None
    if not isinstance(listed, list):
        raise BadCatalogue((("the file", "items", "is missing: a list of items, written in [ ]"),))
    for number, value in enumerate(listed, start=1):
        where = f"item {number}"
        if isinstance(value, dict) and (unknown := [key for key in value if key not in ITEM_FIELDS]):
            faults.append((where, unknown[0], "is no field of an item"))
            continue
        try:
            items.append(read_as(Item, value, ""))
        except PneumenError as error:
            faults.append((where, getattr(error, "field", ""), str(error)))
    return _whole(items, faults)


def catalogue_from_file(document: bytes) -> tuple[Item, ...]:
    """Read a catalogue in either format: JSON begins with a brace."""
    bare = document.removeprefix(b"\xef\xbb\xbf").lstrip()
    return catalogue_from_json(bare) if bare.startswith(b"{") else catalogue_from_csv(document)


def item_from_cells(cells: dict[str, str]) -> Item:
    """Read one item from cells as a catalogue's CSV holds them.

    Raises:
        BadCatalogue: with every fault by its column.
    """
    faults: list[Fault] = []
    item = _item_of_row("this item", dict.fromkeys(NEEDED, "") | cells, faults)
    if item is None:
        raise BadCatalogue(tuple(faults))
    return item


def cells_of(item: Item) -> dict[str, str]:
    """Return an item's cells, as they would stand in CSV."""
    return {name: _cell(getattr(item, name)) for name in ITEM_FIELDS}


def catalogue_to_csv(items: Iterable[Item]) -> str:
    """Write a catalogue as CSV, formulas made harmless."""
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(ITEM_FIELDS)
    for item in items:
        writer.writerow(cells_of(item).values())
    return out.getvalue()


def catalogue_to_json(items: Iterable[Item]) -> bytes:
    """Write a catalogue as JSON; what is empty is left out."""
    listed = [{name: getattr(item, name) for name in ITEM_FIELDS if _is_said(getattr(item, name))} for item in items]
    return msgspec.json.format(msgspec.json.encode({"items": listed}), indent=1) + b"\n"


@dataclass(frozen=True, slots=True, kw_only=True)
class Changes:
    """What an import would do: items added, removed, and changed (before, after, names of what differs)."""

    added: tuple[Item, ...]
    removed: tuple[Item, ...]
    changed: tuple[tuple[Item, Item, tuple[str, ...]], ...]


def changes_between(before: Iterable[Item], after: Iterable[Item]) -> Changes:
    """Compare two catalogues by id."""
    old, new = {item.id: item for item in before}, {item.id: item for item in after}
    both = [(old[key], item) for key, item in new.items() if key in old]
    differing = [(was, now, tuple(f for f in ITEM_FIELDS if getattr(was, f) != getattr(now, f))) for was, now in both]
    return Changes(
        added=tuple(item for key, item in new.items() if key not in old),
        removed=tuple(item for key, item in old.items() if key not in new),
        changed=tuple(one for one in differing if one[2]),
    )


def _check_size(document: bytes) -> None:
    if len(document) > MOST_BYTES:
        size = f"{len(document) / 1e6:.0f} MB"
        raise BadCatalogue((("the file", "", f"is {size}; a catalogue may have up to {MOST_BYTES / 1e6:.0f} MB"),))


def _text(document: bytes) -> str:
    _check_size(document)
    try:
        return document.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        line = document.count(b"\n", 0, error.start) + 1
        raise BadCatalogue(((f"line {line}", "", "is not UTF-8; save the file as CSV UTF-8"),)) from None


def _check_columns(columns: list[str]) -> None:
    faults = [
        ("line 1", name, "is missing; the columns needed are " + ", ".join(NEEDED))
        for name in NEEDED
        if name not in columns
    ]
    faults += [
        ("line 1", name or "(empty)", "is no column of a catalogue") for name in columns if name not in ITEM_FIELDS
    ]
    faults += [("line 1", name, "stands twice") for name, times in sorted(Counter(columns).items()) if times > 1]
    if faults:
        raise BadCatalogue(tuple(faults[:MOST_FAULTS]))


def _item_of_row(where: str, row: Mapping[str, Any], faults: list[Fault]) -> Item | None:
    if None in row or None in row.values():
        faults.append((where, "", "has more or fewer cells than line 1 has columns"))
        return None
    values, known = {}, len(faults)
    for name, cell in row.items():
        if cell.strip():
            try:
                values[name] = _value(name, cell if name in WORDED else cell.strip())
            except ValueError as error:
                faults.append((where, name, str(error)))
    faults += [(where, name, "is empty") for name in NEEDED if not row[name].strip()]
    if len(faults) > known:
        return None
    try:
        return Item(**values)
    except PneumenError as error:
        field = getattr(error, "field", "")
        faults.append((where, field, str(error).removeprefix(f"{field} ")))
        return None


def _value(name: str, cell: str) -> Any:  # noqa: ANN401 - whatever the column holds
    shape = _SHAPES.get(name)
    if shape == LIST:
        words = cell.split()
        return tuple(_number(word) for word in words) if name in FACTS and FACTS[name].figures else tuple(words)
    if shape == NUMBER:
        return _number(cell)
    if shape == WHOLE:
        if not re.fullmatch(r"-?\d{1,9}", cell):
            raise ValueError(f"must be a whole number, was {cell[:40]!r}")
        return int(cell)
    if shape == YES_NO:
        if cell.lower() not in WORDS:
            raise ValueError(f"must be yes or no, was {cell[:40]!r}")
        return WORDS[cell.lower()]
    return cell[1:] if cell[:1] == "'" and cell[1:].startswith((*FORMULA_START, "'")) else cell


def _number(cell: str) -> float:
    if not re.fullmatch(r"[-+]?\d+(\.\d*)?([eE][-+]?\d{1,3})?|[-+]?\.\d+", cell):
        raise ValueError(f"must be a number with a point for decimals, was {cell[:40]!r}")
    return float(cell)


def _cell(value: Any) -> str:  # noqa: ANN401 - whatever the column holds
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, tuple):
        return " ".join(_cell(part) for part in value)
    if isinstance(value, float):
        return repr(int(value)) if value.is_integer() else repr(value)
    return harmless(value) if isinstance(value, str) else str(value)


def harmless(text: str) -> str:
    """Return a text as a cell that begins no formula and, whatever is in it, no new row: a line break is quoted."""
    line = "".join(" " if unicodedata.category(one) in ROW_ENDS and one not in "\n\t" else one for one in text)
    return f"'{line}" if line.startswith((*FORMULA_START, "'")) else line


def _is_said(value: Any) -> bool:  # noqa: ANN401 - whatever the field holds
    return value not in (None, "", ())


def _whole(items: list[Item], faults: list[tuple[str, str, str]]) -> tuple[Item, ...]:
    """Take all of it or nothing: ids must be unique and bundles hold what is there."""
    faults += list(_crossing_faults(items))
    if len(items) > MOST_ITEMS:
        faults.append(("the file", "", f"has more than {MOST_ITEMS} items"))
    if faults:
        raise BadCatalogue(tuple(faults[:MOST_FAULTS]))
    return tuple(items)


def _crossing_faults(items: list[Item]) -> Iterator[tuple[str, str, str]]:
    seen = set()
    for item in items:
        if item.id in seen:
            yield item.id, "id", "stands twice; ids must be unique"
        seen.add(item.id)
    for item in items:
        for part in item.in_box if item.kind == "bundle" else ():
            if part not in seen:
                yield item.id, "in_box", f"{part} is no item of this catalogue"
