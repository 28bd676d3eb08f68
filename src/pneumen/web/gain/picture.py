"""The gorge: every level referred to the file, as ready coordinates.

Signal is a ribbon, overload a roof, noise a ground.
"""

from collections.abc import Mapping
from typing import Final

from pneumen.core.forecast import Outcome
from pneumen.core.gain import School
from pneumen.core.line import Levels
from pneumen.web.drawing import whisker
from pneumen.web.gain.marks import Bracket, Column, Frame, Gorge, Handle, Line, Mass, Tick, Window
from pneumen.wording.figures import decimals_for, figure
from pneumen.wording.lengths import near

STAGES: Final = {
    "room": "Room air",
    "instrument": "Plug",
    "box": "DI box",
    "microphone": "Capsule",
    "cable": "Cable",
    "preamp": "Preamp",
    "converter": "Converter",
}
LINTEL: Final = 22.0
KEY_LINTEL: Final = 40.0


def wide_frame(lowest_db: float) -> Frame:
    """Paper for 1280 px and up; reaches down to the lowest ground."""
    return Frame(
        width=766,
        height=401,
        axis_x=44,
        signal_x=136,
        file_x=672,
        top_y=28,
        top_db=30,
        bottom_db=min(-118.0, lowest_db - 6),
        tick_step_db=20,
        narrow=False,
    )


def narrow_frame(lowest_db: float) -> Frame:
    """Paper for a phone: fewer ticks, labels above the lines."""
    return Frame(
        width=342,
        height=380,
        axis_x=30,
        signal_x=34,
        file_x=318,
        top_y=44,
        top_db=30,
        bottom_db=min(-118.0, lowest_db - 6),
        tick_step_db=40,
        narrow=True,
    )


def draw_gorge(
    outcome: Outcome,
    school: School,
    *,
    source_label: str,
    frame: Frame,
    handles: tuple[Handle, ...] = (),
    pinned: Mapping[str, float | None] | None = None,
    measured: Mapping[str, float | None] | None = None,
) -> Gorge:
    """Place everything the gorge shows; the template only draws it.

    Args:
        pinned: peak_dbfs, typical_dbfs and noise_dbfs of a setup kept for comparison.
        measured: the same of the last take.
    """
    levels = outcome.levels
    band_db = outcome.signal_band_db
    lowest_roof = levels.ceilings_dbfs[levels.clips_first]
    peak, typical = levels.peak_dbfs, levels.typical_dbfs
    lines = _signal_lines(frame, levels, band_db)
    columns = _columns(frame, levels)
    noisiest = next(c for c, stage in zip(columns, _stages(levels), strict=True) if stage == levels.noise_set_by)
    first_roof = next(c for c, stage in zip(columns, _stages(levels), strict=True) if stage == levels.clips_first)
    window = _window(frame, school)
    bracket_x = frame.file_x - (77 if not frame.narrow else 14)
    return Gorge(
        key=frame.key,
        frame=frame,
        source_label=source_label,
        source_x=(frame.axis_x + columns[0].centre_x - 39) / 2 + 2 if not frame.narrow else frame.axis_x,
        file_label_x=frame.file_x - 45,
        ticks=_ticks(frame, lines),
        columns=columns,
        lines=lines,
        ribbon_y=frame.y(peak),
        ribbon_width=frame.file_x - frame.signal_x,
        ribbon_height=max(frame.y(levels.quiet_dbfs) - frame.y(peak), 1),
        doubt=_doubt(frame, peak, band_db),
        window=window,
        headroom=_bracket(frame, bracket_x, lowest_roof, peak, "headroom", levels.headroom_db, band_db),
        clean_range=_bracket(
            frame,
            bracket_x,
            typical,
            levels.noise_dbfs,
            "clean range",
            levels.clean_range_db,
            outcome.clean_range_band_db,
        ),
        carry_noise=(frame.y(levels.noise_dbfs), noisiest.centre_x, bracket_x - 7),
        carry_clip=(frame.y(lowest_roof), first_roof.centre_x, bracket_x - 7),
        ghosts=_extra_lines(frame, pinned, "pinned", window),
        measured=_extra_lines(frame, measured, "measured", window),
        handles=handles,
        description=_description(outcome),
    )


def gain_handle(
    frame: Frame,
    outcome: Outcome,
    reach: tuple[float, float],
    now: float,
    *,
    units_per_db: float,
    spoken: str,
) -> Handle:
    """The square at the file's end: lifting it by a decibel raises the gain by one, in the units of its field."""
    return Handle(
        field="gain",
        x=frame.file_x,
        y=frame.y(outcome.levels.peak_dbfs),
        name="Gain, at the file's end of the loudest line",
        minimum=reach[0],
        maximum=reach[1],
        now=now,
        spoken=spoken,
        px_per_db=frame.px_per_db,
        units_per_db=units_per_db,
    )


def distance_handle(frame: Frame, outcome: Outcome, reach_m: tuple[float, float], distance_m: float) -> Handle:
    """The round end at the mouth: lifting it moves the mouth closer, by the law of distance."""
    return Handle(
        field="distance",
        x=frame.signal_x,
        y=frame.y(outcome.levels.peak_dbfs),
        name="Distance, at the source's end of the loudest line",
        minimum=100 * reach_m[0],
        maximum=100 * reach_m[1],
        now=100 * distance_m,
        spoken=near(distance_m),
        px_per_db=frame.px_per_db,
        is_distance=True,
    )


def _stages(levels: Levels) -> tuple[str, ...]:
    if "instrument" in levels.noise_by_stage_dbfs:
        return ("instrument", "cable", *(stage for stage in levels.noise_by_stage_dbfs if stage != "instrument"))
    if "preamp" in levels.noise_by_stage_dbfs:
        return ("room", "microphone", "cable", "preamp", "converter")
    return ("room", "microphone")


def _columns(frame: Frame, levels: Levels) -> tuple[Column, ...]:
    stages = _stages(levels)
    left = frame.signal_x + (29 if not frame.narrow else 8)
    right = frame.file_x - (93 if not frame.narrow else 28)
    gap = 6 if not frame.narrow else 3
    width = min((right - left - gap * (len(stages) - 1)) / len(stages), 120)
    return tuple(
        _column(frame, levels, stage, left + number * (width + gap), width) for number, stage in enumerate(stages)
    )


def _column(frame: Frame, levels: Levels, stage: str, x: float, width: float) -> Column:
    ceiling = levels.ceilings_dbfs.get(stage)
    noise = levels.noise_by_stage_dbfs.get(stage)
    centre = x + width / 2
    label = "Microphone" if stage == "microphone" and len(_stages(levels)) == 2 else STAGES[stage]
    if frame.narrow:
        label = {"Room air": "Air", "Converter": "Conv.", "Microphone": "Mic"}.get(label, label)
    return Column(
        label=label,
        label_y=frame.top_y - 14,
        centre_x=centre,
        roof=None if ceiling is None else _roof(frame, x, width, ceiling, levels, first=stage == levels.clips_first),
        ground=None if noise is None else _ground(frame, x, width, noise, first=stage == levels.noise_set_by),
        no_roof_y=frame.top_y + 16 if stage == "cable" and not frame.narrow else None,
        no_ground_y=frame.floor_y - 10 if stage == "cable" and not frame.narrow else None,
    )


def _roof(frame: Frame, x: float, width: float, ceiling_dbfs: float, levels: Levels, *, first: bool) -> Mass:
    """A roof: hatched above, a lintel with the figure at its lip. Emphasised only when the signal nears it."""
    near = first and levels.headroom_db < 12
    lip_y = frame.y(ceiling_dbfs)
    wanted = KEY_LINTEL if near and not frame.narrow else LINTEL
    # A roof near or above the edge of the paper is drawn at the edge, with an arrow that says so.
    beyond = lip_y < frame.top_y + 20
    lip_y = max(lip_y, frame.top_y + 20)
    lintel = min(wanted, lip_y - frame.top_y)
    label = figure(ceiling_dbfs, sign=True) + (" ↑" if beyond and not frame.narrow else "")
    words = (("clips first", lip_y - 23),) if near and lintel >= 36 else ()
    return Mass(
        x=x,
        width=width,
        y=frame.top_y,
        height=lip_y - frame.top_y,
        lip_y=lip_y,
        label=label,
        label_y=lip_y - 7,
        words=words,
        emphasised=near,
        hatch_height=lip_y - lintel - frame.top_y,
        lintel_y=lip_y - lintel,
        lintel_height=lintel,
    )


def _ground(frame: Frame, x: float, width: float, noise_dbfs: float, *, first: bool) -> Mass:
    lip_y = min(frame.y(noise_dbfs), frame.floor_y - 24)
    words = (("sets your", lip_y + 38), ("noise", lip_y + 53)) if first and not frame.narrow else ()
    fits = frame.floor_y - lip_y > 62
    return Mass(
        x=x,
        width=width,
        y=lip_y,
        height=frame.floor_y - lip_y,
        lip_y=lip_y,
        label=figure(noise_dbfs),
        label_y=lip_y + 19,
        words=words if fits else (),
        emphasised=first,
    )


def _signal_lines(frame: Frame, levels: Levels, band_db: float) -> tuple[Line, ...]:
    named = (
        ("loudest", "loud", levels.peak_dbfs),
        ("typical", "typ", levels.typical_dbfs),
        ("quietest", "quiet", levels.quiet_dbfs),
    )
    lines, lowest_label = [], -100.0
    for name, css, level in named:
        y = frame.y(level)
        label_y = max(y - 4 if frame.narrow else y + 4.2, lowest_label + 15)
        lowest_label = label_y
        lines.append(Line(name=name, css=css, y=y, label=figure(level, decimals_for(band_db)), label_y=label_y))
    return tuple(lines)


def _extra_lines(frame: Frame, values: Mapping[str, float | None] | None, css: str, window: Window) -> tuple[Line, ...]:
    """Draw levels kept from elsewhere; their words stand right of the file, where the window's words leave room."""
    lines, taken = [], [(window.label_y - 12, window.values_y + 14)]
    for key in ("peak_dbfs", "typical_dbfs", "noise_dbfs"):
        value = (values or {}).get(key)
        if value is None:
            continue
        y = frame.y(value)
        free = not frame.narrow and not any(top < y + 4 < foot for top, foot in taken)
        taken.append((y - 10, y + 18))
        lines.append(Line(name=css if free else "", css=css, y=y, label=figure(value), label_y=y + 4))
    return tuple(lines)


def _ticks(frame: Frame, lines: tuple[Line, ...]) -> tuple[Tick, ...]:
    """Grid lines stop short of the labels that stand left of the signal."""
    ticks = []
    for level in range(int(frame.top_db) // 20 * 20, int(frame.bottom_db), -frame.tick_step_db):
        y = frame.y(level)
        crowded = not frame.narrow and any(abs(y - line.label_y + 4) < 14 for line in lines)
        x1 = frame.signal_x if crowded else frame.axis_x
        ticks.append(Tick(y=y, label=figure(level, sign=level > 0), label_y=y + 4, x1=x1))
    return tuple(ticks)


def _bracket(
    frame: Frame, x: float, top_db: float, bottom_db: float, name: str, value_db: float, band_db: float
) -> Bracket:
    y1, y2 = sorted((frame.y(top_db), frame.y(bottom_db)))
    short = y2 - y1 < 44  # too short for its words: they stand above it
    middle = (y1 + y2) / 2
    side = -1 if frame.narrow else 1
    return Bracket(
        path=whisker(x, y1, y2, 5),
        shown=not (frame.narrow and short),
        anchor="end" if frame.narrow else "start",
        label=name,
        value=f"{figure(value_db, decimals_for(band_db))} dB",
        text_x=x - 5 if short else x + 10 * side,
        label_y=y1 - 25 if short else middle + 10,
        value_y=y1 - 8 if short else middle + 28,
    )


def _window(frame: Frame, school: School) -> Window:
    high_y, low_y = frame.y(school.high_dbfs), frame.y(school.low_dbfs)
    return Window(
        y=high_y,
        width=frame.file_x + 6 - frame.signal_x,
        height=low_y - high_y,
        edges="".join(f"M{frame.signal_x:.1f} {y:.1f}H{frame.file_x + 7:.1f}" for y in (high_y, low_y)),
        end=f"M{frame.file_x + 7:.1f} {high_y:.1f}V{low_y:.1f}",
        label=school.label.lower(),
        values=f"{figure(school.low_dbfs)} to {figure(school.high_dbfs)}",
        label_y=high_y - 3,
        word_y=high_y + 12,
        values_y=high_y + 28,
    )


def _doubt(frame: Frame, peak_dbfs: float, band_db: float) -> str:
    """The band of the loudest peak as a whisker beside the last stage."""
    x, top, foot = (
        frame.file_x - (86 if not frame.narrow else 4),
        frame.y(peak_dbfs + band_db),
        frame.y(peak_dbfs - band_db),
    )
    return whisker(x, top, foot, 4)


def _description(outcome: Outcome) -> str:
    levels, band_db = outcome.levels, outcome.signal_band_db
    return (
        f"The loudest peak runs at {figure(levels.peak_dbfs, decimals_for(band_db))} dBFS, "
        f"{figure(levels.headroom_db)} dB under the {levels.clips_first}, which clips first at "
        f"{figure(levels.ceilings_dbfs[levels.clips_first])}. The typical level "
        f"{figure(levels.typical_dbfs)} stays {figure(levels.clean_range_db)} dB over all noise at "
        f"{figure(levels.noise_dbfs)}; the {levels.noise_set_by} sets it."
    )
