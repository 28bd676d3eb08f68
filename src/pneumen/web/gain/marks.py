"""The marks the gorge is made of: frozen, with ready coordinates in pixels."""

from dataclasses import dataclass

from pneumen.web.drawing import Axis, Paper, block, rules


@dataclass(frozen=True, slots=True, kw_only=True)
class Frame(Paper):
    """The paper of a picture: its size, and where the axis and the labels stand."""

    height: float
    axis_x: float
    signal_x: float
    file_x: float
    top_y: float
    top_db: float
    bottom_db: float
    tick_step_db: int

    @property
    def floor_y(self) -> float:
        return self.height - 2

    @property
    def tick_x(self) -> float:
        return self.axis_x - (6 if self.narrow else 10)

    @property
    def name_x(self) -> float:
        return self.signal_x + 12 if self.narrow else self.signal_x - 9

    @property
    def beyond_x(self) -> float:
        """Where words stand to the right of the file."""
        return self.file_x + 14

    @property
    def name_anchor(self) -> str:
        return "start" if self.narrow else "end"

    @property
    def levels(self) -> Axis:
        return Axis(low=self.bottom_db, high=self.top_db, start=self.floor_y, end=self.top_y)

    @property
    def px_per_db(self) -> float:
        return -self.levels.px_per_unit

    def y(self, level_dbfs: float) -> float:
        """Place a level, clamped to the paper."""
        return self.levels.at(level_dbfs)


@dataclass(frozen=True, slots=True, kw_only=True)
class Tick:
    y: float
    label: str
    label_y: float
    rule: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Mass:
    """A roof or a ground: a block between two heights with its figure, emphasised or not.

    at_times tells a ground that is there only at times, and does not count in the noise of the pauses.
    """

    x: float
    width: float
    y: float
    height: float
    lip_y: float
    label: str
    label_y: float
    words: tuple[tuple[str, float], ...]
    emphasised: bool
    hatch_height: float = 0.0
    lintel_y: float = 0.0
    lintel_height: float = 0.0
    at_times: bool = False

    @property
    def outline(self) -> str:
        return block(self.x, self.y, self.width, self.height)

    @property
    def hatch(self) -> str:
        return block(self.x, self.y, self.width, self.hatch_height)

    @property
    def lintel(self) -> str:
        return block(self.x, self.lintel_y, self.width, self.lintel_height)

    @property
    def lip(self) -> str:
        return rules([self.lip_y], self.x, self.x + self.width)


@dataclass(frozen=True, slots=True, kw_only=True)
class Column:
    """One stage between source and file."""

    label: str
    label_y: float
    centre_x: float
    roof: Mass | None
    ground: Mass | None
    no_roof_y: float | None
    no_ground_y: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Line:
    """A level of the signal from lips to file."""

    name: str
    css: str
    y: float
    label: str
    label_y: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Window:
    """The target window of a school: its strip, its edges, and its words at the file's end."""

    y: float
    width: float
    height: float
    edges: str
    end: str
    label: str
    values: str
    label_y: float
    word_y: float
    values_y: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Bracket:
    """A difference, from one height to another: its path, and its words where there is room for them."""

    path: str
    shown: bool
    anchor: str
    label: str
    value: str
    text_x: float
    label_y: float
    value_y: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Handle:
    """Something to drag: a slider for assistive technology, a mark for the eye."""

    field: str
    x: float
    y: float
    name: str
    minimum: float
    maximum: float
    now: float
    spoken: str
    px_per_db: float
    units_per_db: float = 1.0
    is_distance: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Gorge:
    """The whole picture."""

    key: str
    frame: Frame
    source_label: str
    source_x: float
    file_label_x: float
    ticks: tuple[Tick, ...]
    columns: tuple[Column, ...]
    lines: tuple[Line, ...]
    ribbon_y: float
    ribbon_width: float
    ribbon_height: float
    doubt: str
    window: Window
    headroom: Bracket
    clean_range: Bracket
    carry_noise: tuple[float, float, float]
    carry_clip: tuple[float, float, float]
    ghosts: tuple[Line, ...]
    measured: tuple[Line, ...]
    handles: tuple[Handle, ...]
    description: str
