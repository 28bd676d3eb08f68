"""The strip: a take's outline as a hill over its noise, wrapped by line like text, with findings standing on it."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

from pneumen.core.gain import School
from pneumen.core.take import Finding, Measurement, PeakTrace
from pneumen.core.verdict import Verdict
from pneumen.web.drawing import Axis, Tick
from pneumen.wording.figures import clock, figure
from pneumen.wording.language import _

LOWEST_DB: Final = -84.0
DEEPEST_DB: Final = -112.0
HIGHEST_DB: Final = 3.0
LINES_S: Final = (20.0, 30.0, 60.0, 120.0, 300.0, 600.0)
NARROW_LINES_S: Final = (12.0, *LINES_S)
TICKS_S: Final = (0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 30, 60, 120, 300, 600)
SHORTEST_S: Final = 0.5
"""No closer can one come."""
MOST_LINES: Final = 8
LITTLE: Final = 0.15
NARROW_BELOW: Final = 500
FLAG_WORDS: Final = {"plosive": _("pop"), "sibilance": _("S"), "level-riding": _("auto level")}
TALL, LOW = (34.0, 208.0, 236.0), (30.0, 112.0, 136.0)
"""Top, base and height of a strip that is a take's only line, and of one of several."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Flag:
    """A finding standing on the outline: its stretch of time, and its word where there is room for it."""

    x: float
    y: float
    top: float
    width: float
    height: float
    verdict: Verdict
    label: str
    shown: bool
    text_x: float
    text_y: float
    anchor: str
    start_s: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Strip:
    """One line of the picture: from_s stands at left, a second is px_per_s wide."""

    key: str
    from_s: float
    to_s: float
    span: str
    width: float
    height: float
    left: float
    right: float
    inner_width: float
    draw_height: float
    level_x: float
    top: float
    base: float
    outline: str
    window_y: float
    window_height: float
    roof_y: float
    floor_y: float | None
    floor_label: str
    floor_label_y: float
    flags: tuple[Flag, ...]
    seconds: tuple[Tick, ...]
    levels: tuple[Tick, ...]
    duration_s: float
    px_per_s: float
    description: str


def draw_lines(
    measurement: Measurement,
    trace: PeakTrace | None,
    school: School,
    *,
    width: float,
    span: tuple[float, float] | None = None,
) -> tuple[Strip, ...]:
    """Place a take's outline, or a stretch of it, wrapped into lines of as many seconds each as keeps them few."""
    whole_s = max(measurement.format.duration_s, 0.01)
    first_s, last_s = (0.0, whole_s) if span is None else span
    duration_s = last_s - first_s
    lengths = NARROW_LINES_S if width < NARROW_BELOW else LINES_S
    line_s = next((one for one in lengths if duration_s <= one * MOST_LINES), duration_s / MOST_LINES)
    if duration_s <= 1.5 * line_s:
        return (draw_strip(measurement, trace, school, width=width, span=span),)
    count = math.ceil(duration_s / line_s - LITTLE)
    line_s = max(line_s, duration_s / count)  # a few seconds more get no line of their own
    starts = [first_s + line_s * number for number in range(count)]
    return tuple(
        draw_strip(measurement, trace, school, width=width, span=(start, start + line_s), shape=LOW) for start in starts
    )


def draw_strip(
    measurement: Measurement,
    trace: PeakTrace | None,
    school: School,
    *,
    width: float,
    span: tuple[float, float] | None = None,
    shape: tuple[float, float, float] = TALL,
) -> Strip:
    """Place one line of a take's outline: peaks in dBFS over time, the target window behind, the floor below."""
    narrow = width < NARROW_BELOW
    left, right, (top, base, height) = (34.0 if narrow else 44.0), width - 10, shape
    duration_s = max(measurement.format.duration_s, 0.01)
    from_s, to_s = (0.0, duration_s) if span is None else span
    seconds = Axis(low=from_s, high=to_s, start=left, end=right)
    px_per_s = seconds.px_per_unit

    floor = measurement.noise.floor_dbfs_a
    lowest = LOWEST_DB if floor is None else max(DEEPEST_DB, min(LOWEST_DB, floor - 6))

    levels = Axis(low=lowest, high=HIGHEST_DB, start=base, end=top)
    y = levels.at
    return Strip(
        key="narrow" if narrow else "wide",
        from_s=from_s,
        to_s=to_s,
        span=""
        if span is None
        else _("{from_s} to {to_s}").format(from_s=clock(from_s), to_s=clock(round(min(to_s, duration_s), 1))),
        width=width,
        height=height,
        left=left,
        right=right,
        inner_width=right - left,
        draw_height=base - top,
        level_x=left - 8,
        top=top,
        base=base,
        outline=_outline(trace, seconds, base, y),
        window_y=y(school.high_dbfs),
        window_height=y(school.low_dbfs) - y(school.high_dbfs),
        roof_y=y(0),
        floor_y=None if floor is None else y(floor),
        floor_label="" if floor is None else _("noise {floor}").format(floor=figure(floor)),
        floor_label_y=base - 6 if floor is None or y(floor) > base - 8 else y(floor) - 6,
        flags=_flags(measurement.findings, seconds, duration_s, top, base),
        seconds=_seconds(seconds, narrow=narrow),
        levels=tuple(
            Tick(at=y(one), label=figure(one)) for one in levels.every(20 if span is None else 40) if one <= 0
        ),
        duration_s=duration_s,
        px_per_s=px_per_s,
        description=_description(measurement),
    )


def _outline(trace: PeakTrace | None, seconds: Axis, base: float, y: Callable[[float], float]) -> str:
    """Join the peaks, as many as there are pixels, into one path."""
    points = [f"M{seconds.start:.1f} {base:.1f}"]
    x = seconds.start
    if trace is not None:
        last_s = min(seconds.high, len(trace.peaks) * trace.seconds_per_column)
        levels = trace.between(seconds.low, last_s, round(seconds.end - seconds.start))
        step = (seconds.at(last_s) - seconds.start) / max(1, len(levels))
        for number, level_db in enumerate(levels.tolist()):
            x = seconds.start + (number + 0.5) * step
            points.append(f"L{x:.1f} {y(level_db):.1f}")
        x = min(x + step / 2, seconds.end)
    return "".join(points) + f"L{x:.1f} {base:.1f}Z"


def _flags(
    findings: tuple[Finding, ...], seconds: Axis, duration_s: float, top: float, base: float
) -> tuple[Flag, ...]:
    """Stand the findings on the outline; a word that would run into the one before is left to the list below."""
    flags, free_from, right, px_per_s = [], 0.0, seconds.end, seconds.px_per_unit
    for finding in findings:
        if not seconds.low <= finding.start_s < seconds.high:
            continue
        whole = _is_whole(finding, duration_s)
        x = seconds.at(finding.start_s)
        label = FLAG_WORDS.get(finding.kind, finding.kind.replace("-", " "))
        at_end = x + 7 * len(label) > right
        shown = x >= free_from
        free_from = x + 7.5 * len(label) + 8 if shown else free_from
        flags.append(
            Flag(
                x=x,
                y=top,
                top=top - 12,
                width=min(max((finding.end_s - finding.start_s) * px_per_s, 3), right - x),
                height=3 if whole else base - top,
                verdict=finding.verdict,
                label=label,
                shown=shown,
                text_x=x - 4 if at_end else x + 4,
                text_y=top - 4,
                anchor="end" if at_end else "start",
                start_s=finding.start_s,
            )
        )
    return tuple(flags)


def _seconds(axis: Axis, *, narrow: bool) -> tuple[Tick, ...]:
    wanted = (axis.high - axis.low) / (4 if narrow else 9)
    step = next((one for one in TICKS_S if one >= wanted), 1800)
    decimals = 2 if step < 0.1 else 1 if step < 1 else 0
    return tuple(Tick(at=axis.at(one), label=clock(one, decimals)) for one in axis.every(step))


def _is_whole(finding: Finding, duration_s: float) -> bool:
    return finding.start_s == 0 and finding.end_s > 0.99 * duration_s


def _placed(finding: Finding, duration_s: float) -> str:
    kind = FLAG_WORDS.get(finding.kind, finding.kind.replace("-", " "))
    if _is_whole(finding, duration_s):
        return _("{kind} throughout").format(kind=kind)
    return _("{kind} at {start_s}").format(kind=kind, start_s=clock(finding.start_s))


def _description(measurement: Measurement) -> str:
    findings = measurement.findings
    peak = measurement.level.sample_peak_dbfs
    duration_s = measurement.format.duration_s
    told = "; ".join(_placed(finding, duration_s) for finding in findings[:5]) or _("nothing found wrong")
    loud = "Silent" if peak is None else _("Highest peak {peak} dBFS").format(peak=figure(peak, 1))
    return f"{loud}; {told}."
