"""The strip: a take's outline as a hill over its noise, with findings standing on it, as ready coordinates."""

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
    """The whole picture; a second is px_per_s wide and time zero stands at left."""

    key: str
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


def draw_strip(measurement: Measurement, outline: dict[str, Any], school: School, *, width: float) -> Strip:
    """Place a take's outline: peaks in dBFS over time, the target window behind, the floor below."""
    narrow = width < 500
    left, right, top, base = (34.0 if narrow else 44.0), width - 10, 34.0, 208.0
    duration_s = max(measurement.format.duration_s, 0.01)
    seconds = Axis(low=0.0, high=duration_s, start=left, end=right)
    px_per_s = seconds.px_per_unit

    floor = measurement.noise.floor_dbfs_a
    lowest = LOWEST_DB if floor is None else max(DEEPEST_DB, min(LOWEST_DB, floor - 6))

    levels = Axis(low=lowest, high=HIGHEST_DB, start=base, end=top)
    y = levels.at
    return Strip(
        key="narrow" if narrow else "wide",
        width=width,
        height=236,
        left=left,
        right=right,
        inner_width=right - left,
        level_x=left - 8,
        top=top,
        base=base,
        outline=_outline(outline, left, px_per_s, base, right, y),
        window_y=y(school.high_dbfs),
        window_height=y(school.low_dbfs) - y(school.high_dbfs),
        roof_y=y(0),
        floor_y=None if floor is None else y(floor),
        floor_label="" if floor is None else f"noise {figure(floor)}",
        floor_label_y=base - 6 if floor is None or y(floor) > base - 8 else y(floor) - 6,
        flags=_flags(measurement.findings, left, px_per_s, top, base, right),
        seconds=_seconds(seconds, narrow=narrow),
        levels=tuple(Tick(at=y(one), label=figure(one)) for one in levels.every(20) if one <= 0),
        duration_s=duration_s,
        px_per_s=px_per_s,
        description=_description(measurement),
    )


def _outline(
    outline: dict[str, Any], left: float, px_per_s: float, base: float, right: float, y: Callable[[float], float]
) -> str:
    """Join the peaks of the columns, as many as there are pixels, into one path."""
    columns = outline["columns"]
    per_pixel = max(1, math.ceil(len(columns) * 1.0 / (right - left)))
    points = [f"M{left:.1f} {base:.1f}"]
    for start in range(0, len(columns), per_pixel):
        peak = max(max(-low, high) for low, high in columns[start : start + per_pixel])
        level_db = 20 * math.log10(peak) if peak > 1e-6 else DEEPEST_DB
        x = min(left + (start + per_pixel / 2) * outline["seconds_per_column"] * px_per_s, right)
        points.append(f"L{x:.1f} {y(level_db):.1f}")
    return "".join(points) + f"L{right:.1f} {base:.1f}Z"


def _flags(
    findings: tuple[Finding, ...], left: float, px_per_s: float, top: float, base: float, right: float
) -> tuple[Flag, ...]:
    """Stand the findings on the outline; a word that would run into the one before is left to the list below."""
    flags, free_from = [], 0.0
    for finding in findings:
        whole = finding.start_s == 0 and finding.end_s * px_per_s > right - left - 2
        x = left + finding.start_s * px_per_s
        label = finding.kind.replace("-", " ")
        at_end = x + 7 * len(label) > right
        shown = x >= free_from
        free_from = x + 7.5 * len(label) + 8 if shown else free_from
        flags.append(
            Flag(
                x=x,
                y=top,
                top=top - 12,
                width=max((finding.end_s - finding.start_s) * px_per_s, 3),
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
    wanted = axis.high / (4 if narrow else 9)
    step = next((s for s in (0.5, 1, 2, 5, 10, 20, 30, 60, 120, 300, 600) if s >= wanted), 1800)
    return tuple(Tick(at=axis.at(one), label=clock(one)) for one in axis.every(step))


def clock(time_s: float) -> str:
    """Write a time as minutes and seconds."""
    minutes, seconds = divmod(time_s, 60)
    return f"{int(minutes)}:{seconds:04.1f}" if time_s % 1 else f"{int(minutes)}:{int(seconds):02d}"


def _description(measurement: Measurement) -> str:
    findings = measurement.findings
    peak = measurement.level.sample_peak_dbfs
    told = "; ".join(f"{finding.kind} at {clock(finding.start_s)}" for finding in findings[:5]) or "nothing found wrong"
    loud = "Silent" if peak is None else f"Highest peak {figure(peak, 1)} dBFS"
    return f"{loud}; {told}."
