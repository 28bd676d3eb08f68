"""The strip: a take's outline as a hill over its noise, wrapped by line like text, with findings standing on it."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Final

from pneumen.core.gain import School
from pneumen.core.take import Finding, Measurement
from pneumen.core.verdict import Verdict
from pneumen.web.drawing import Axis, Tick
from pneumen.wording.figures import figure

LOWEST_DB: Final = -84.0
DEEPEST_DB: Final = -112.0
HIGHEST_DB: Final = 3.0
LINES_S: Final = (20.0, 30.0, 60.0, 120.0, 300.0, 600.0)
NARROW_LINES_S: Final = (12.0, 20.0, 30.0, 60.0, 120.0, 300.0, 600.0)
MOST_LINES: Final = 8
LITTLE: Final = 0.15
NARROW_BELOW: Final = 500
FLAG_WORDS: Final = {"plosive": "pop", "sibilance": "S", "level-riding": "auto level"}
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


def draw_lines(measurement: Measurement, outline: dict[str, Any], school: School, *, width: float) -> tuple[Strip, ...]:
    """Place a take's outline, a long one wrapped into lines of as many seconds each as keeps them few."""
    duration_s = max(measurement.format.duration_s, 0.01)
    lengths = NARROW_LINES_S if width < NARROW_BELOW else LINES_S
    line_s = next((one for one in lengths if duration_s <= one * MOST_LINES), duration_s / MOST_LINES)
    if duration_s <= 1.5 * line_s:
        return (draw_strip(measurement, outline, school, width=width),)
    count = math.ceil(duration_s / line_s - LITTLE)
    line_s = max(line_s, duration_s / count)  # a few seconds more get no line of their own
    starts = [line_s * number for number in range(count)]
    return tuple(
        draw_strip(measurement, outline, school, width=width, span=(start, start + line_s), shape=LOW)
        for start in starts
    )


def draw_strip(
    measurement: Measurement,
    outline: dict[str, Any],
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
        span="" if span is None else f"{clock(from_s)} to {clock(round(min(to_s, duration_s), 1))}",
        width=width,
        height=height,
        left=left,
        right=right,
        inner_width=right - left,
        level_x=left - 8,
        top=top,
        base=base,
        outline=_outline(outline, seconds, base, y),
        window_y=y(school.high_dbfs),
        window_height=y(school.low_dbfs) - y(school.high_dbfs),
        roof_y=y(0),
        floor_y=None if floor is None else y(floor),
        floor_label="" if floor is None else f"noise {figure(floor)}",
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


def _outline(outline: dict[str, Any], seconds: Axis, base: float, y: Callable[[float], float]) -> str:
    """Join the peaks of the columns, as many as there are pixels, into one path."""
    column_s = outline["seconds_per_column"]
    first, last = int(seconds.low / column_s), math.ceil(seconds.high / column_s)
    columns = outline["columns"][first:last]
    per_pixel = max(1, math.ceil(len(columns) / (seconds.end - seconds.start)))
    points = [f"M{seconds.start:.1f} {base:.1f}"]
    x = seconds.start
    for start in range(0, len(columns), per_pixel):
        peak = max(max(-low, high) for low, high in columns[start : start + per_pixel])
        level_db = 20 * math.log10(peak) if peak > 1e-6 else DEEPEST_DB
        x = min(max(seconds.at((first + start + per_pixel / 2) * column_s), seconds.start), seconds.end)
        points.append(f"L{x:.1f} {y(level_db):.1f}")
    end = min(max(seconds.at((first + len(columns)) * column_s), x), seconds.end)
    return "".join(points) + f"L{end:.1f} {base:.1f}Z"


def _flags(
    findings: tuple[Finding, ...], seconds: Axis, duration_s: float, top: float, base: float
) -> tuple[Flag, ...]:
    """Stand the findings on the outline; a word that would run into the one before is left to the list below."""
    flags, free_from, right, px_per_s = [], 0.0, seconds.end, seconds.px_per_unit
    for finding in findings:
        if not seconds.low <= finding.start_s < seconds.high:
            continue
        whole = finding.start_s == 0 and finding.end_s > 0.99 * duration_s
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
    step = next((s for s in (0.5, 1, 2, 5, 10, 20, 30, 60, 120, 300, 600) if s >= wanted), 1800)
    return tuple(Tick(at=axis.at(one), label=clock(one)) for one in axis.every(step))


def clock(time_s: float) -> str:
    """Write a time as minutes and seconds."""
    minutes, seconds = divmod(time_s, 60)
    return f"{int(minutes)}:{seconds:04.1f}" if time_s % 1 else f"{int(minutes)}:{int(seconds):02d}"


def _description(measurement: Measurement) -> str:
    findings = measurement.findings
    peak = measurement.level.sample_peak_dbfs
    told = (
        "; ".join(
            f"{FLAG_WORDS.get(finding.kind, finding.kind)} at {clock(finding.start_s)}" for finding in findings[:5]
        )
        or "nothing found wrong"
    )
    loud = "Silent" if peak is None else f"Highest peak {figure(peak, 1)} dBFS"
    return f"{loud}; {told}."
