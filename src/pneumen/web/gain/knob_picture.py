"""The map of a knob as a picture: a shell that widens with the gain."""

import math
from dataclasses import dataclass

import numpy as np

from pneumen.core.gear import Taper
from pneumen.wording.figures import figure
from pneumen.wording.language import _

WIDTH, HEIGHT, CENTRE, INNER, GROWS = 300.0, 262.0, (150.0, 140.0), 58.0, 44.0
TURN_DEG, FIRST_DEG = 300.0, -150.0
"""A knob turns through 300 degrees, from seven o'clock to five (common practice, no source)."""
LABEL_OFF, LABEL_DOWN = 20.0, 4.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Mark:
    """A reading on the shell: where, and its rise over the left stop."""

    x: float
    y: float
    label_x: float
    label_y: float
    label: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Shell:
    """The map as a shell that widens with the gain, from the left stop round to the right."""

    width: float
    height: float
    path: str
    marks: tuple[Mark, ...]
    now: tuple[float, float]
    description: str


def draw_shell(taper: Taper, share_now: float) -> Shell:
    """Draw a map, with the place where the knob stands now."""
    positions = tuple(zip(taper.shares, taper.rises_db, strict=True))
    fine = [float(share) for share in np.linspace(0, 1, 91)]
    outer = [_at(taper, share) for share in fine]
    inner = [_on_circle(share, INNER - 8) for share in reversed(fine)]
    return Shell(
        width=WIDTH,
        height=HEIGHT,
        path="M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in (*outer, *inner)) + "Z",
        marks=tuple(_mark(taper, share, rise) for share, rise in positions),
        now=_at(taper, share_now),
        description="; ".join(
            _("{share} % of the turn: {rise} dB over the left stop").format(
                share=figure(100 * share), rise=figure(rise, 1)
            )
            for share, rise in positions
        ),
    )


def _mark(taper: Taper, share: float, rise_db: float) -> Mark:
    (x, y), (label_x, label_y) = _at(taper, share), _at(taper, share, LABEL_OFF)
    return Mark(x=x, y=y, label_x=label_x, label_y=label_y + LABEL_DOWN, label=figure(rise_db, sign=rise_db > 0))


def _at(taper: Taper, share: float, beyond: float = 0.0) -> tuple[float, float]:
    """Return the point of the shell's edge at a share of the turn, or so far outside it."""
    return _on_circle(share, INNER + GROWS * taper.rise_at(share) / max(taper.range_db, 1.0) + beyond)


def _on_circle(share: float, radius: float) -> tuple[float, float]:
    angle = math.radians(FIRST_DEG + TURN_DEG * share)
    return CENTRE[0] + radius * math.sin(angle), CENTRE[1] - radius * math.cos(angle)
