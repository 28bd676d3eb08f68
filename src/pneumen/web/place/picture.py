"""The distance ladder: a ruler from the mouth, a strip for each thing distance decides, the calm range."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.forecast import PartSetup
from pneumen.core.place import DISTANCE_SCHOOLS, LIMITS, Ladder, at_distance
from pneumen.web.drawing import LogAxis, Paper, Tick, block, ticks_at
from pneumen.wording.figures import figure, habits
from pneumen.wording.language import _
from pneumen.wording.lengths import FOOT_M, INCH_M, calm_told, near

STRIP_LABELS: Final = {
    "bass": _("Bass build-up"),
    "pops": _("Pops"),
    "sibilance": _("Hard S"),
    "room": _("Room sound"),
    "sway": _("Sway"),
    "level": _("Level"),
}
TICKS_CM: Final = (2, 3, 5, 8, 10, 15, 20, 30, 45, 60, 100, 150, 200, 300)
TICKS_IN: Final = (1, 2, 3, 4, 6, 8, 12, 18)
TICKS_FT: Final = (2, 3, 4, 5, 7, 10)


@dataclass(frozen=True, slots=True, kw_only=True)
class Frame(Paper):
    left: float
    right: float
    strip_height: float


WIDE: Final = Frame(width=766, left=150, right=742, strip_height=26, narrow=False)
VALUE_WIDTH: Final = 210
LETTER_PX: Final = 6.6
"""About how wide a letter of a mark's word is."""
NARROW: Final = Frame(width=342, left=16, right=330, strip_height=22, narrow=True)


@dataclass(frozen=True, slots=True, kw_only=True)
class Cell:
    x: float
    width: float
    strength: float
    path: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Strip:
    """One thing distance decides: shaded cells, and its value where the microphone stands."""

    name: str
    label: str
    y: float
    label_y: float
    cells: tuple[Cell, ...]
    value: str


@dataclass(frozen=True, slots=True, kw_only=True)
class SchoolMark:
    x: float
    width: float
    y: float
    label: str
    label_x: float
    anchor: str


@dataclass(frozen=True, slots=True, kw_only=True)
class LadderPicture:
    """The whole picture."""

    frame: Frame
    height: float
    ruler_y: float
    ticks: tuple[Tick, ...]
    strips: tuple[Strip, ...]
    calm: tuple[float, float] | None
    calm_edges: str
    calm_label: str
    schools: tuple[SchoolMark, ...]
    head: bool
    screen_x: float | None
    turned_deg: float
    other_deg: float | None
    microphone_x: float
    minimum_cm: float
    maximum_cm: float
    now_cm: float
    px_per_db: float
    spoken: str
    bottom: float
    description: str

    @property
    def values_anchor(self) -> str:
        """On which side of the microphone its values stand: where there is room for them."""
        return "start" if self.microphone_x < self.frame.right - VALUE_WIDTH else "end"


def draw_ladder(setup: PartSetup, ladder: Ladder, level_db: np.ndarray, frame: Frame, *, voice: bool) -> LadderPicture:
    """Place ruler, strips, schools and the microphone.

    Args:
        level_db: the level at each of the ladder's distances against where the microphone stands.
        voice: whether a head is drawn and the schools of vocal distance are marked.
    """
    placement = setup.placement
    distance_m = placement.distance_m
    nearest, farthest = (float(ladder.distance_m[end]) for end in (0, -1))
    ruler = LogAxis(low=nearest, high=farthest, start=frame.left, end=frame.right)
    x_of, marks = ruler.at, _schools(ruler, frame) if voice else ()
    rows = [*ladder.values, "level"]
    gap = 6.0 if not frame.narrow else 20.0
    ruler_y = max((mark.y for mark in marks), default=0.0) + 34
    top = ruler_y + (50 if frame.narrow else 36)
    strips = []
    for number, name in enumerate(rows):
        y = top + number * (frame.strip_height + gap)
        strength = _level_strength(level_db) if name == "level" else ladder.strengths[name]
        strips.append(_strip(name, y, strength, ladder, ruler, frame=frame, here_m=distance_m))
    bottom = strips[-1].y + frame.strip_height
    calm = ladder.calm_m and (x_of(ladder.calm_m[0]), x_of(ladder.calm_m[1]))
    return LadderPicture(
        frame=frame,
        height=bottom + 16,
        ruler_y=ruler_y,
        ticks=ticks_at(ruler, _marks_m(), apart=34 if frame.narrow else 40),
        strips=tuple(strips),
        calm=calm,
        calm_edges="".join(f"M{x:.1f} {ruler_y:.1f}V{bottom:.1f}" for x in calm or ()),
        calm_label=_calm_label(ladder),
        schools=marks,
        head=voice and not frame.narrow,
        screen_x=x_of(placement.distance_m - placement.screen_at_m) if voice and placement.pop_screen else None,
        turned_deg=-placement.turned_deg,
        other_deg=placement.turned_deg if setup.pair else None,
        microphone_x=x_of(distance_m),
        minimum_cm=100 * nearest,
        maximum_cm=100 * farthest,
        now_cm=round(100 * distance_m, 1),
        px_per_db=ruler.px_per_db,
        spoken=f"{near(distance_m)}; {_calm_label(ladder)}",
        bottom=bottom,
        description=_described(ladder, distance_m, strips),
    )


def _described(ladder: Ladder, distance_m: float, strips: list[Strip]) -> str:
    nearest, farthest = (near(float(ladder.distance_m[end])) for end in (0, -1))
    values = "; ".join(f"{strip.label}: {strip.value}" for strip in strips)
    told = _("A ruler from {nearest} to {farthest}, the microphone at {distance_m}").format(
        nearest=nearest, farthest=farthest, distance_m=near(distance_m)
    )
    return f"{told}; {_calm_label(ladder)}. {values}."


def _marks_m() -> dict[float, str]:
    """The ruler's round lengths in the reader's unit, with their words."""
    if habits.get().feet:
        inches = {one * INCH_M: f"{one} in" for one in TICKS_IN}
        return inches | {one * FOOT_M: f"{one} ft" for one in TICKS_FT}
    return {one / 100: f"{one} cm" if one < 100 else f"{one / 100:g} m" for one in TICKS_CM}


def _level_strength(level_db: np.ndarray) -> np.ndarray:
    """A fall beyond 12 dB makes the preamp work for it."""
    return np.clip((-level_db - 6) / 18, 0, 1)


def _strip(
    name: str, y: float, strength: np.ndarray, ladder: Ladder, ruler: LogAxis, *, frame: Frame, here_m: float
) -> Strip:
    edges = np.sqrt(ladder.distance_m[:-1] * ladder.distance_m[1:])
    edges = np.array([ladder.distance_m[0], *edges, ladder.distance_m[-1]])
    steps = np.round(strength * 6) / 6
    cells, start = [], 0
    for place in range(1, len(steps) + 1):
        if place < len(steps) and steps[place] == steps[start]:
            continue
        x = ruler.at(float(edges[start]))
        width, felt = ruler.at(float(edges[place])) - x, round(float(steps[start]), 2)
        cells.append(Cell(x=x, width=width, strength=felt, path=block(x, y, width, frame.strip_height)))
        start = place
    value = _("0 dB here")
    if name != "level":
        here = at_distance(ladder, here_m)[name]
        value = f"{figure(here, 0 if abs(here) >= 10 else 1)} {LIMITS[name].unit}"
    return Strip(
        name=name,
        label=STRIP_LABELS[name],
        y=y,
        label_y=y - 4 if frame.narrow else y + frame.strip_height / 2 + 5,
        cells=tuple(cells),
        value=value,
    )


def _calm_label(ladder: Ladder) -> str:
    if ladder.calm_m is None:
        felt = STRIP_LABELS[ladder.conflict].lower()
        return _("no distance is calm here: {felt} at the best of them, {best_m}").format(
            felt=felt, best_m=near(ladder.best_m)
        )
    return calm_told(*ladder.calm_m)


def _schools(ruler: LogAxis, frame: Frame) -> tuple[SchoolMark, ...]:
    """Mark the schools over the ruler, each in the first row where its word is free; at the end words turn inwards."""
    rows, marks = [0.0, 0.0, 0.0], []
    for school in DISTANCE_SCHOOLS:
        low, high = max(school.low_m, ruler.low), min(school.high_m, ruler.high)
        if low >= high:
            continue
        x, end = ruler.at(low), ruler.at(high)
        wide = LETTER_PX * len(school.label)
        turns = x + wide > frame.width
        begins = min(x, end - wide) if turns else x
        row = next((number for number, taken in enumerate(rows) if begins >= taken), len(rows) - 1)
        rows[row] = max(end, x if turns else x + wide) + 6
        word_x, anchor = (end, "end") if turns else (x, "start")
        marks.append(SchoolMark(x=x, width=end - x, y=16 + 19 * row, label=school.label, label_x=word_x, anchor=anchor))
    return tuple(marks)
