"""The stages of the gorge: each with its roof, above which it overloads, and its ground, the noise it adds."""

from collections.abc import Iterator
from dataclasses import replace
from typing import Final

from pneumen.core.line import Levels
from pneumen.web.gain.marks import Column, Frame, Mass
from pneumen.wording.figures import figure
from pneumen.wording.language import _

STAGES: Final = {
    "room": _("Room air"),
    "instrument": _("Plug"),
    "box": _("DI box"),
    "microphone": _("Capsule"),
    "cable": _("Cable"),
    "preamp": _("Preamp"),
    "converter": _("Converter"),
}
SHORT: Final = {"room": _("Air"), "converter": _("Conv.")}
"""What has no room under a narrow picture's columns."""
LEAK: Final = "headphones"
LINTEL: Final = 22.0
KEY_LINTEL: Final = 40.0


def _stages(levels: Levels) -> tuple[str, ...]:
    if "instrument" in levels.noise_by_stage_dbfs:
        return ("instrument", "cable", *(stage for stage in levels.noise_by_stage_dbfs if stage != "instrument"))
    if "preamp" in levels.noise_by_stage_dbfs:
        return ("room", "microphone", "cable", "preamp", "converter")
    return ("room", "microphone")


def columns_of(frame: Frame, levels: Levels, leak_dbfs: float | None) -> Iterator[tuple[str, Column]]:
    """Yield each stage with its column; the headphones stand beside the air, for both reach the capsule."""
    stages = list(_stages(levels))
    if leak_dbfs is not None:
        stages.insert(1, LEAK)
    left = frame.signal_x + (29 if not frame.narrow else 8)
    right = frame.file_x - (93 if not frame.narrow else 28)
    gap = 6 if not frame.narrow else 3
    width = min((right - left - gap * (len(stages) - 1)) / len(stages), 120)
    for number, stage in enumerate(stages):
        x = left + number * (width + gap)
        if stage == LEAK and leak_dbfs is not None:
            yield stage, _leak_column(frame, leak_dbfs, x, width)
        else:
            yield stage, _column(frame, levels, stage, x, width)


def _leak_column(frame: Frame, leak_dbfs: float, x: float, width: float) -> Column:
    """What leaks from the headphones is a ground that stands only while the backing plays."""
    ground = _ground(frame, x, width, leak_dbfs, first=False)
    lip_y = ground.lip_y
    words = ((_("while it"), lip_y + 38), ("plays", lip_y + 53)) if frame.floor_y - lip_y > 62 else ()
    return Column(
        label="Leak",
        label_y=frame.top_y - 14,
        centre_x=x + width / 2,
        roof=None,
        ground=replace(ground, words=() if frame.narrow else words, at_times=True),
        no_roof_y=None,
        no_ground_y=None,
    )


def _column(frame: Frame, levels: Levels, stage: str, x: float, width: float) -> Column:
    ceiling = levels.ceilings_dbfs.get(stage)
    noise = levels.noise_by_stage_dbfs.get(stage)
    centre = x + width / 2
    is_whole = stage == "microphone" and len(_stages(levels)) == 2  # one that ends in a plug for the computer
    label = _("Microphone") if is_whole else STAGES[stage]
    if frame.narrow:
        label = _("Mic") if is_whole else SHORT.get(stage, label)
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
    words = ((_("clips first"), lip_y - 23),) if near and lintel >= 36 else ()
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
    words = ((_("sets your"), lip_y + 38), ("noise", lip_y + 53)) if first and not frame.narrow else ()
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
