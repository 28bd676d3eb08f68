"""The gorge: every level referred to the file, as ready coordinates.

Signal is a ribbon, overload a roof, noise a ground.
"""

from collections.abc import Mapping

from pneumen.core.forecast import Outcome
from pneumen.core.gain import School
from pneumen.core.line import Levels
from pneumen.web.drawing import rules, whisker
from pneumen.web.gain.columns import columns_of
from pneumen.web.gain.marks import Bracket, Frame, Gorge, Handle, Line, Tick, Window
from pneumen.wording.figures import decimals_for, figure
from pneumen.wording.language import _
from pneumen.wording.lengths import near


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
    leak_dbfs: float | None = None,
) -> Gorge:
    """Place everything the gorge shows; the template only draws it.

    Args:
        pinned: peak_dbfs, typical_dbfs and noise_dbfs of a setup kept for comparison.
        measured: the same of the last take.
        leak_dbfs: what leaks from the headphones while the backing plays; None where nothing does.
    """
    levels = outcome.levels
    band_db = outcome.signal_band_db
    lowest_roof = levels.ceilings_dbfs[levels.clips_first]
    peak, typical = levels.peak_dbfs, levels.typical_dbfs
    lines = _signal_lines(frame, levels, band_db)
    columns = dict(columns_of(frame, levels, leak_dbfs))
    noisiest, first_roof = columns[levels.noise_set_by], columns[levels.clips_first]
    first, window = next(iter(columns.values())), _window(frame, school)
    bracket_x = frame.file_x - (77 if not frame.narrow else 14)
    return Gorge(
        key=frame.key,
        frame=frame,
        source_label=source_label,
        source_x=frame.axis_x if frame.narrow else (frame.axis_x + first.centre_x - 39) / 2 + 2,
        file_label_x=frame.file_x - 45,
        ticks=_ticks(frame, lines),
        columns=tuple(columns.values()),
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
            _("clean range"),
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
        name=_("Gain, at the file's end of the loudest line"),
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
        name=_("Distance, at the source's end of the loudest line"),
        minimum=100 * reach_m[0],
        maximum=100 * reach_m[1],
        now=100 * distance_m,
        spoken=near(distance_m),
        px_per_db=frame.px_per_db,
        is_distance=True,
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
        rule = rules([y], frame.signal_x if crowded else frame.axis_x, frame.file_x)
        ticks.append(Tick(y=y, label=figure(level, sign=level > 0), label_y=y + 4, rule=rule))
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
        values=_("{low_dbfs} to {high_dbfs}").format(
            low_dbfs=figure(school.low_dbfs), high_dbfs=figure(school.high_dbfs)
        ),
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
    return _(
        "The loudest peak runs at {peak_dbfs} dBFS, "
        "{headroom_db} dB under the {clips_first}, which clips first at "
        "{ceilings_dbfs}. The typical level "
        "{typical_dbfs} stays {clean_range_db} dB over all noise at "
        "{noise_dbfs}; the {noise_set_by} sets it."
    ).format(
        peak_dbfs=figure(levels.peak_dbfs, decimals_for(band_db)),
        headroom_db=figure(levels.headroom_db),
        clips_first=levels.clips_first,
        ceilings_dbfs=figure(levels.ceilings_dbfs[levels.clips_first]),
        typical_dbfs=figure(levels.typical_dbfs),
        clean_range_db=figure(levels.clean_range_db),
        noise_dbfs=figure(levels.noise_dbfs),
        noise_set_by=levels.noise_set_by,
    )
