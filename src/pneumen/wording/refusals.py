"""Why something cannot be, for whoever typed it."""

from typing import Final

from pneumen.core.errors import RefusedField
from pneumen.wording.lengths import length

UNITS: Final = ("_m", "_m2", "_m3", "_s", "_ms", "_db", "_dba", "_dbu", "_dbfs", "_db_spl", "_deg", "_hz", "_ohm")
"""Units that field names end in: a person is told the field, and the unit where the figure stands."""


def refusal(error: Exception, called: str = "") -> str:
    """Word a refusal: the field as it is called, or by its plain name, lengths the reader's way, a stop at the end."""
    if isinstance(error, RefusedField):
        lengths = {name: length(told) for name, told in error.lengths.items()}
        text = f"{called or _plain(error.field)} {error.problem.format(**lengths) if lengths else error.problem}"
    else:
        text = str(error)
    text = text.replace("_", " ")
    return f"{text[:1].upper()}{text[1:]}."


def _plain(field: str) -> str:
    ending = max((unit for unit in UNITS if field.endswith(unit)), key=len, default="")
    return field.removesuffix(ending)
