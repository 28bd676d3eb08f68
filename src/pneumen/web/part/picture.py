"""The shape of the song: sections side by side, as wide as their bars and as high as they are loud."""

from dataclasses import dataclass
from typing import Final

from pneumen.core.part import loudest_of
from pneumen.core.part.shape import LOUDEST_DB, SOFTEST_DB, Section
from pneumen.web.drawing import Axis, Paper, Tick
from pneumen.wording.figures import figure
from pneumen.wording.language import _


@dataclass(frozen=True, slots=True, kw_only=True)
class Frame(Paper):
    height: float
    left: float
    right: float
    top: float
    bottom: float


WIDE: Final = Frame(width=766, height=286, left=52, right=752, top=40, bottom=250, narrow=False)
NARROW: Final = Frame(width=342, height=260, left=40, right=334, top=40, bottom=224, narrow=True)
GAP: Final = 4.0
LEAST_WIDTH_FOR_NAME: Final = 60.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Block:
    """One section: its mass, its name where there is room, and the handle on its top."""

    section_id: int
    x: float
    y: float
    width: float
    height: float
    middle: float
    name: str
    bars: str
    value: str
    value_y: float
    loudest: bool
    now: float
    spoken: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Shape:
    frame: Frame
    blocks: tuple[Block, ...]
    ticks: tuple[Tick, ...]
    px_per_db: float
    minimum: float
    maximum: float
    description: str


def draw_shape(sections: tuple[tuple[int, Section], ...], usual_db: float, frame: Frame) -> Shape:
    """Place the sections of a part.

    Args:
        sections: (id, section) in their order.
        usual_db: the part's usual level, dB SPL at 1 m, which the sections' loudness is against.
    """
    levels = [usual_db + one.loudness_db for _rest, one in sections] or [usual_db]
    low, high = 10 * ((min(levels) - 12) // 10), 10 * (-(-(max(levels) + 4) // 10))
    axis = Axis(low=low, high=high, start=frame.bottom, end=frame.top)
    per_bar = (frame.right - frame.left) / max(1, sum(one.bars for _rest, one in sections))
    loudest, blocks, x = loudest_of([one for _rest, one in sections]), [], frame.left
    for number, (section_id, one) in enumerate(sections):
        width = one.bars * per_bar
        y = axis.at(usual_db + one.loudness_db)
        blocks.append(_block(section_id, one, x, y, width, frame=frame, loudest=number == loudest, usual_db=usual_db))
        x += width
    ticks = tuple(Tick(at=axis.at(one), label=figure(one)) for one in axis.every(10 if high - low <= 60 else 20))
    return Shape(
        frame=frame,
        blocks=tuple(blocks),
        ticks=ticks,
        px_per_db=round(-axis.px_per_unit, 3),
        minimum=SOFTEST_DB,
        maximum=LOUDEST_DB,
        description=_description(sections, usual_db, loudest),
    )


def _block(
    section_id: int, one: Section, x: float, y: float, width: float, *, frame: Frame, loudest: bool, usual_db: float
) -> Block:
    room = width - GAP
    shown = one.name if room >= LEAST_WIDTH_FOR_NAME or len(one.name) * 7 <= room else ""
    return Block(
        section_id=section_id,
        x=round(x, 1),
        y=round(y, 1),
        width=round(max(room, 2), 1),
        height=round(frame.bottom - y, 1),
        middle=round(x + room / 2, 1),
        name=shown if len(shown) * 7 <= room else shown[: max(0, int(room / 7) - 1)],
        bars=f"{one.bars}" if room < 52 else f"{one.bars} bars",
        value=figure(usual_db + one.loudness_db),
        value_y=round(y - 16, 1),
        loudest=loudest,
        now=one.loudness_db,
        spoken=_("{name}: {text} dB against the usual").format(
            name=one.name, text=figure(one.loudness_db, sign=True) or "0"
        ),
    )


def _description(sections: tuple[tuple[int, Section], ...], usual_db: float, loudest: int | None) -> str:
    if loudest is None:
        return _("No sections yet.")
    one = sections[loudest][1]
    listed = ", ".join(f"{section.name} {figure(usual_db + section.loudness_db)}" for _rest, section in sections)
    return _("In dB SPL at 1 m: {listed}. Loudest: {name}; it sets the gain.").format(listed=listed, name=one.name)
