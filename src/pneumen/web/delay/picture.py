"""One syllable's journey as a time line from lips to ear, and lost buffers by size."""

import math
from dataclasses import dataclass
from typing import Final

from pneumen.core.delay import LIKELY, LOADS, UNKNOWN, DelayPlan, dropouts_per_minute
from pneumen.core.verdict import Verdict
from pneumen.web.drawing import Axis, Paper, polyline
from pneumen.wording.delay import SEGMENTS, WORDS
from pneumen.wording.figures import figure
from pneumen.wording.language import _

WIDE: Final = Paper(width=760.0, narrow=False)
NARROW: Final = Paper(width=330.0, narrow=True)
JOURNEY_PAPERS: Final = (WIDE, NARROW)
THRESHOLDS: Final = ((6.0, "noticed"), (12.0, "disturbs"))
LEAST_SPAN_MS: Final = 15.0
NAMED_PX: Final = 74.0
"""A stretch narrower than this has its name in the list only."""
FIGURED_PX: Final = 26.0
RATES: Final = (1e-3, 1e3)
"""Lost buffers a minute, from never to always, as the curve is drawn."""
VERDICTS: Final = {LIKELY: Verdict.MENDABLE, UNKNOWN: Verdict.WATCH}


@dataclass(frozen=True, slots=True, kw_only=True)
class Stretch:
    """One segment of the way: its arch, and what is written under it."""

    path: str
    x: float
    name: str
    ms: str
    waits: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Journey:
    """The time line on one paper."""

    frame: Paper
    height: float
    base_y: float
    start_x: float
    end_x: float
    total: str
    stretches: tuple[Stretch, ...]
    thresholds: tuple[tuple[float, str], ...]
    ticks: tuple[tuple[float, str], ...]
    samples_per_px: float
    description: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Size:
    """One buffer on the curve of lost ones."""

    x: float
    y: float
    label: str
    word: str
    verdict: Verdict
    is_chosen: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Lost:
    """Lost buffers by size: the simulated computer's curve, what is expected at each, and the smallest that holds."""

    width: float
    height: float
    path: str
    sizes: tuple[Size, ...]
    knee_x: float
    description: str


def draw_journey(plan: DelayPlan, paper: Paper) -> Journey:
    """Place the way of a sound from the lips back to the ear, each stretch as long as it takes."""
    height, base_y = (190.0, 118.0) if not paper.narrow else (170.0, 104.0)
    start, end = 46.0, paper.width - 46.0
    span_ms = max(LEAST_SPAN_MS, 1.08 * max(plan.round_trip_ms, sum(one.ms for one in plan.way)))
    axis = Axis(low=0.0, high=span_ms, start=start, end=end)
    stretches, at_ms = [], 0.0
    for number, segment in enumerate(plan.way):
        left, right = axis.at(at_ms), axis.at(at_ms + segment.ms)
        at_ms += segment.ms
        waits = segment.name in ("input-buffer", "output-buffer")
        stretches.append(_stretch(segment.name, segment.ms, left, right, base_y, waits=waits, number=number))
    told = ", ".join(f"{SEGMENTS[one.name]} {figure(one.ms, 1)} ms" for one in plan.way)
    return Journey(
        frame=paper,
        height=height,
        base_y=base_y,
        start_x=start,
        end_x=axis.at(plan.round_trip_ms),
        total=f"{figure(plan.round_trip_ms, 1)} ms",
        stretches=tuple(stretches),
        thresholds=tuple((axis.at(ms), word) for ms, word in THRESHOLDS if ms < span_ms),
        ticks=tuple((axis.at(ms), figure(ms)) for ms in axis.round_ticks(5 if paper.narrow else 8)),
        samples_per_px=plan.sample_rate_hz / 2000 / axis.px_per_unit,
        description=_("From lips to ear {round_trip_ms} ms: {told}.").format(
            round_trip_ms=figure(plan.round_trip_ms, 1), told=told
        ),
    )


def _stretch(name: str, ms: float, left: float, right: float, base_y: float, *, waits: bool, number: int) -> Stretch:
    """An arch over a stretch: where sound waits it stands tall, where it passes it lies flat."""
    wide = right - left
    rise = min(46.0, 12.0 + wide / 3) if waits else min(16.0, 5.0 + wide / 5)
    path = f"M{left:.1f} {base_y:.1f}C{left + wide / 4:.1f} {base_y - rise:.1f} {right - wide / 4:.1f} "
    path += f"{base_y - rise:.1f} {right:.1f} {base_y:.1f}"
    return Stretch(
        path=path,
        x=(left + right) / 2,
        name=SEGMENTS[name] if wide >= NAMED_PX else "",
        ms=figure(ms, 1) if wide >= FIGURED_PX else "",
        waits=waits,
    )


def draw_lost(plan: DelayPlan, computer: str, load: str) -> Lost:
    """Place what is to be expected at each buffer."""
    width, height, left, right, top, foot = 262.0, 150.0, 16.0, 246.0, 14.0, 92.0
    sizes = [one.buffer for one in plan.chances]
    across = Axis(low=math.log2(min(sizes)), high=math.log2(max(sizes)), start=left, end=right)
    up = Axis(low=math.log10(RATES[0]), high=math.log10(RATES[1]), start=foot, end=top)

    def at(buffer: float) -> tuple[float, float]:
        rate = dropouts_per_minute(computer, round(buffer), plan.sample_rate_hz, load=LOADS[load])
        return across.at(math.log2(buffer)), up.at(math.log10(max(rate, RATES[0])))

    steps = [2 ** (across.low + (across.high - across.low) * step / 48) for step in range(49)]
    return Lost(
        width=width,
        height=height,
        path=polyline(at(one) for one in steps),
        sizes=tuple(
            Size(
                x=across.at(math.log2(one.buffer)),
                y=foot + 16,
                label=f"{one.buffer}",
                word=WORDS[one.word],
                verdict=VERDICTS.get(one.word, Verdict.CLEAR),
                is_chosen=one.buffer == plan.buffer,
            )
            for one in plan.chances
        ),
        knee_x=across.at(math.log2(plan.planned_buffer)),
        description="; ".join(
            _("{buffer} samples: {words}").format(buffer=one.buffer, words=WORDS[one.word]) for one in plan.chances
        ),
    )
