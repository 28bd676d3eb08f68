"""Instruments as line drawings of our own, with the zones a microphone can look at. Coordinates only."""

import json
from dataclasses import dataclass
from importlib.resources import files
from typing import Final

from pneumen.core.forecast import ZoneHere
from pneumen.core.place import Body

WIDE_PX, HIGH_PX, EDGE_PX = 300.0, 260.0, 16.0

OUTLINES: Final = json.loads(files("pneumen.web.place").joinpath("outlines.json").read_text(encoding="utf-8"))["paths"]
"""Paths by body."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Dot:
    """A zone on the drawing: its number in the list beside it."""

    zone: str
    number: int
    x: float
    y: float
    chosen: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class BodyPicture:
    width: float
    height: float
    left: float
    top: float
    scale: float
    paths: tuple[str, ...]
    dots: tuple[Dot, ...]
    title: str
    description: str


def draw_body(body: Body, zones: tuple[ZoneHere, ...], chosen: str) -> BodyPicture:
    """Place a body and its zones, numbered in the order given."""
    width_cm, height_cm = (100 * side for side in body.size_m)
    scale = min((WIDE_PX - 2 * EDGE_PX) / width_cm, (HIGH_PX - 2 * EDGE_PX) / height_cm)
    left, height = (WIDE_PX - scale * width_cm) / 2, scale * height_cm + 2 * EDGE_PX
    dots = tuple(
        Dot(
            zone=one.zone.slug,
            number=number,
            x=left + 100 * one.zone.at_m[0] * scale,
            y=EDGE_PX + (height_cm - 100 * one.zone.at_m[1]) * scale,
            chosen=one.zone.slug == chosen,
        )
        for number, one in enumerate(zones, start=1)
    )
    return BodyPicture(
        width=WIDE_PX,
        height=height,
        left=left,
        top=EDGE_PX,
        scale=scale,
        paths=tuple(OUTLINES[body.slug]),
        dots=dots,
        title=body.label,
        description="; ".join(
            f"{number}: {one.zone.label}, {one.zone.sound}" for number, one in enumerate(zones, start=1)
        ),
    )
