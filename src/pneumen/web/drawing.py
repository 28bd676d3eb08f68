"""What every picture is drawn with: paper, axes, a map to scale, ticks and paths. Coordinates are px, y runs down."""

import math
from collections.abc import Iterable, Iterator, Mapping
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from typing import Final, TypeVar

Place = tuple[float, float]
NICE: Final = (1.0, 2.0, 5.0)
"""Steps of an axis, times a power of ten."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Paper:
    """The paper of a picture: how wide, and whether it is the one for a phone."""

    width: float
    narrow: bool

    @property
    def key(self) -> str:
        return "narrow" if self.narrow else "wide"


Drawn = TypeVar("Drawn", bound=Paper)
seen: ContextVar[frozenset[str]] = ContextVar("seen", default=frozenset())
"""While something is dragged: the key of the paper that is seen, and what is unfolded; empty where all is to be shown.

What is not seen is sent when the hand lets go.
"""


@contextmanager
def as_seen(words: str) -> Iterator[None]:
    """Show only what is told to be seen, its words parted by blanks; all where there are none."""
    token = seen.set(frozenset(words.split()))
    try:
        yield
    finally:
        seen.reset(token)


def those_seen(*papers: Drawn) -> tuple[Drawn, ...]:
    """Return the papers to draw on."""
    return tuple(paper for paper in papers if not seen.get() or paper.key in seen.get()) or papers


def is_seen(fold: str) -> bool:
    """Return whether what folds away is to be shown: all of it, but while something is dragged only what is open.

    Args:
        fold: the id of what folds, or what the ids of several begin with before their "-".
    """
    return not seen.get() or any(one.partition("-")[0] == fold for one in seen.get())


@dataclass(frozen=True, slots=True, kw_only=True)
class Tick:
    """A place on an axis with its word."""

    at: float
    label: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Axis:
    """An axis: low stands at start, high at end; what lies beyond stands at its end."""

    low: float
    high: float
    start: float
    end: float

    @property
    def px_per_unit(self) -> float:
        """How far a step of one goes; negative where the axis runs up the paper."""
        return (self.end - self.start) / (self.high - self.low)

    def at(self, value: float) -> float:
        """Return where a value stands."""
        return self.start + (min(max(value, self.low), self.high) - self.low) * self.px_per_unit

    def round_ticks(self, most: int) -> list[float]:
        """Return round values along the axis, about as many as asked for at most."""
        rough = (self.high - self.low) / most
        power = 10 ** math.floor(math.log10(rough))
        step = next((nice * power for nice in NICE if nice * power >= rough), 10 * power)
        return self.every(step)

    def every(self, step: float) -> list[float]:
        """Return the multiples of a step along the axis."""
        first, last = math.ceil(self.low / step - 1e-9), math.floor(self.high / step + 1e-9)
        return [number * step for number in range(first, last + 1)]


@dataclass(frozen=True, slots=True, kw_only=True)
class LogAxis(Axis):
    """An axis on which equal ratios are equally far apart: distances, frequencies."""

    @property
    def px_per_unit(self) -> float:
        """How far a ratio of e goes."""
        return (self.end - self.start) / math.log(self.high / self.low)

    @property
    def px_per_db(self) -> float:
        """How far 1 dB of level goes on an axis of distances: nearer is louder."""
        return -self.px_per_unit * math.log(10) / 20

    def at(self, value: float) -> float:
        return self.start + math.log(min(max(value, self.low), self.high) / self.low) * self.px_per_unit


@dataclass(frozen=True, slots=True, kw_only=True)
class ToScale:
    """A map to scale: where its zero stands, and how large a metre is; up on the paper is north, or up."""

    left: float
    bottom: float
    px_per_m: float

    def at(self, across_m: float, up_m: float) -> Place:
        """Return where a place stands."""
        return self.left + across_m * self.px_per_m, self.bottom - up_m * self.px_per_m


def polyline(points: Iterable[Place]) -> str:
    """Join places into a path."""
    return "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in points)


def block(x: float, y: float, width: float, height: float) -> str:
    """Return the path of a rectangle: one word for the template, where a picture has many."""
    return f"M{x:.1f} {y:.1f}h{width:.1f}v{height:.1f}h{-width:.1f}z"


def rules(heights: Iterable[float], left: float, right: float) -> str:
    """Return the path of lines across a paper, one at each height."""
    return "".join(f"M{left:.1f} {y:.1f}H{right:.1f}" for y in heights)


def whisker(x: float, top: float, foot: float, half: float) -> str:
    """Draw a line from top to foot with a bar across each end."""
    ends = "".join(f"M{x - half:.1f} {y:.1f}h{2 * half:g}" for y in (top, foot))
    return f"M{x:.1f} {top:.1f}V{foot:.1f}{ends}"


def ticks_at(axis: Axis, labels: Mapping[float, str], apart: float = 0.0) -> tuple[Tick, ...]:
    """Place labelled values that lie on an axis, leaving out those nearer than apart to the one before."""
    found: list[Tick] = []
    for value, label in sorted(labels.items()):
        if axis.low <= value <= axis.high * 1.001:
            at = axis.at(value)
            if not found or abs(at - found[-1].at) > apart:
                found.append(Tick(at=at, label=label))
    return tuple(found)
