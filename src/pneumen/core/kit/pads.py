"""Inline pads: fixed, in steps, or turning freely; which settings each has, and a pad as it is set."""

import math
from collections.abc import Callable
from dataclasses import replace
from typing import Final

from pneumen.core.errors import given
from pneumen.core.kit.item import Item

STEPPED: Final = "stepped"
VARIABLE: Final = "variable"
TURNED_TO_DB: Final = 1.0
"""How finely a freely turning control is set by its print (common practice, no source)."""


def kind_of_pad(pad: Item) -> str:
    """Return stepped or variable for a pad with a control, else what it takes, in dB."""
    if pad.weakest_gain_db is None:
        return f"{-given('gain_db', pad.gain_db):g}"
    return VARIABLE if pad.gain_step_db is None else STEPPED


def settings_of_pad(pad: Item) -> tuple[float, ...]:
    """Return what a pad can take, in dB, weakest first; a freely turning one in steps as fine as it is set by."""
    strongest_db = -given("gain_db", pad.gain_db)
    if pad.weakest_gain_db is None:
        return (strongest_db,)
    weakest_db, step_db = -pad.weakest_gain_db, pad.gain_step_db or TURNED_TO_DB
    steps = math.floor((strongest_db - weakest_db) / step_db + 1e-9)
    between = tuple(weakest_db + step_db * number for number in range(steps + 1))
    return between if strongest_db - between[-1] < 1e-9 else (*between, strongest_db)


def pad_set_to(pad: Item, takes_db: float | None) -> Item:
    """Return a pad at its weakest setting that takes as much as asked, else at its strongest; None: at its weakest."""
    settings = settings_of_pad(pad)
    asked_db = settings[0] if takes_db is None else takes_db
    takes_db = next((one for one in settings if one >= asked_db - 1e-9), settings[-1])
    return replace(pad, gain_db=-takes_db, weakest_gain_db=None, gain_step_db=None)


def pads_like(kind: str) -> Callable[[Item], bool]:
    """Return what tells whether a pad is of a kind: stepped, variable, or one that can take so many dB."""
    if kind in (STEPPED, VARIABLE):
        return lambda pad: kind_of_pad(pad) == kind
    return lambda pad: float(kind) in settings_of_pad(pad)
