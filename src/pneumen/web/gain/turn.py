"""A gain told as the place of a control without decibels: in per cent of its turn, or by its dial's numbers."""

from collections.abc import Mapping
from typing import Any

from pneumen.core.errors import require_within
from pneumen.wording.controls import DIAL_TO


def share_turned(changes: Mapping[str, Any]) -> float | None:
    """Return the share of the turn that was told, 0 to 1; None where none was.

    Raises:
        OutOfRange: where it lies beyond the control's stops.
    """
    for name, whole in (("turn", 100), ("dial", DIAL_TO)):
        if name in changes:
            require_within(name, changes[name], 0, whole)
            return float(changes[name]) / whole
    return None
