"""The one JSON reader: documents into the core's dataclasses, faults told by their place.

It serves the command line, stored snapshots and, later, imports.
"""

import dataclasses
import re
from typing import Any, TypeVar

import msgspec

from pneumen.core.errors import BadDocument

__all__ = ["decode_object", "fields_of", "read_as", "unknown_keys"]

Shape = TypeVar("Shape")


def decode_object(document: bytes) -> dict[str, Any]:
    """Decode a JSON object.

    Raises:
        BadDocument: where it is not JSON in UTF-8, or not an object.
    """
    try:
        value = msgspec.json.decode(document)
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError) as error:
        raise BadDocument(f"this is not JSON in UTF-8 ({error})") from None
    if not isinstance(value, dict):
        raise BadDocument("this must be a JSON object, written in { }")
    return value


def read_as(shape: type[Shape], value: Any, place: str) -> Shape:  # noqa: ANN401 - any decoded JSON
    """Convert a decoded JSON value into a dataclass, which checks itself.

    Raises:
        BadDocument: naming the place, what is wrong and what would be right.
    """
    if not isinstance(value, dict):
        raise BadDocument(f"{place or 'the document'} must be an object, written in {{ }}")
    try:
        return msgspec.convert(value, shape)
    except msgspec.ValidationError as error:
        raise BadDocument(_in_plain_words(str(error), place)) from None


def fields_of(shape: type) -> tuple[str, ...]:
    """Return the names a dataclass takes."""
    return tuple(field.name for field in dataclasses.fields(shape))


def unknown_keys(value: dict[str, Any], shape: type, place: str) -> tuple[str, ...]:
    """Return the keys that no field answers to, each with its place: most often a slip of the pen."""
    known = fields_of(shape)
    return tuple(f"{place}.{key}" if place else key for key in value if key not in known)


def _in_plain_words(message: str, place: str) -> str:
    """Turn msgspec's wording, `Expected X, got Y - at `$.path``, into a field first, then what would be right."""
    text, _, path = message.partition(" - at `$")
    where = ".".join(part for part in (place, path.strip("`.")) if part)
    if missing := re.fullmatch(r"Object missing required field `(\w+)`", text):
        return f"{where + '.' if where else ''}{missing[1]} is missing"
    if wrong := re.fullmatch(r"Expected `(.+)`, got `(.+)`", text):
        names = {"float": "a number", "int": "a whole number", "str": "a text", "bool": "true or false"}
        return f"{where} must be {names.get(wrong[1], wrong[1])}, was {names.get(wrong[2], wrong[2])}"
    return f"{where}: {text}" if where else text
