"""A room in everyday words, made into one that can be drawn: size, surfaces, furniture. Estimates that say so."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from typing import Final

from pneumen.core.errors import UnknownName, require_positive, require_within
from pneumen.core.room.box import WALLS, Point
from pneumen.core.room.furnishing import Placed
from pneumen.core.room.layout import Layout, Soft

SIZES: Final[Mapping[str, Point]] = {
    "closet": (1.9, 1.5, 2.3),
    "small": (3.4, 2.9, 2.4),
    "medium": (4.4, 3.7, 2.45),
    "large": (6.2, 5.0, 2.5),
}
"""Inside measures of each size, west to east, south to north, up (estimate)."""

FURNISHINGS: Final[Mapping[str, str]] = {
    "bare": "Bare: hard floor, empty walls, claps ring",
    "some": "Some soft things: a rug, curtains, a chair",
    "furnished": "Furnished: bed or sofa, carpet, full shelves",
    "soft": "Soft all round: duvets, clothes, mattresses",
}

NOISES: Final[Mapping[str, tuple[str, float, float]]] = {
    "still": ("Still: you hear your own breath", 22.0, 5.0),
    "quiet": ("Quiet: a clock would be heard", 28.0, 5.0),
    "ordinary": ("Ordinary: a fridge, a computer, some street", 35.0, 5.0),
    "noisy": ("Noisy: fans, traffic, neighbours", 43.0, 5.0),
    "unknown": ("I don't know", 33.0, 8.0),
}
"""Background level in dBA and its band (common practice, no source)."""


AT_HAND: Final = (
    Soft(label="Duvet", material="duvet", width_m=1.4, height_m=2.0),
    Soft(label="Heavy blanket", material="blanket-folded", width_m=1.5, height_m=2.0),
    Soft(label="Bath towel, doubled", material="towels", width_m=0.7, height_m=0.7),
)
"""What is soft in most homes and can hang for a take, at its usual size (estimate)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Room:
    """A room by statistics alone: all that the command line's needs tell of one."""

    volume_m3: float
    rt60_s: float
    noise_dba: float
    noise_band_db: float

    def __post_init__(self) -> None:
        require_positive("volume_m3", self.volume_m3, 20_000)
        require_positive("rt60_s", self.rt60_s, 20)
        require_within("noise_dba", self.noise_dba, -20, 140)
        require_within("noise_band_db", self.noise_band_db, 0, 40)


FLOORS: Final = {"bare": "wood-floor", "some": "wood-floor", "furnished": "carpet-thin", "soft": "carpet"}
CEILING: Final = "plasterboard-ceiling"
WALL: Final = "plaster"


@cache
def layout_from_words(size: str, furnishing: str) -> Layout:
    """Return the room two words stand for.

    How it is furnished grows with its floor, so that its reverberation time stays with the word: bare rooms of a flat
    ring for about a second, furnished ones 0.3 to 0.6 s (surveys of living rooms, such as Diaz and Pedrero, Applied
    Acoustics 66, 2005; from memory), a closet full of clothes hardly at all.

    Raises:
        UnknownName: for a word no table holds.

    >>> layout_from_words("medium", "furnished").size_m
    (4.4, 3.7, 2.45)
    """
    for field, word, table in (("size", size, SIZES), ("furnishing", furnishing, FURNISHINGS)):
        if word not in table:
            raise UnknownName(field, word, tuple(table))
    size_m = SIZES[size]
    surfaces = {**dict.fromkeys(WALLS, WALL), "floor": FLOORS[furnishing], "ceiling": CEILING}
    recipe = _closet if size == "closet" else _room
    furniture, soft = recipe(size_m, furnishing)
    return Layout(
        size_m=size_m, surfaces=tuple((wall, surfaces[wall]) for wall in WALLS), furniture=furniture, soft=soft
    )


Recipe = tuple[tuple[Placed, ...], tuple[Soft, ...]]


def _closet(size_m: Point, furnishing: str) -> Recipe:
    """A closet has no room for furniture: what is soft hangs in it."""
    wide, deep, _ = size_m
    coat = Soft(label="Coats", material="clothes", width_m=0.7, height_m=1.2, on="east", u=deep / 2, v=1.2)
    rail = Soft(label="Clothes rail", material="clothes", width_m=1.5, height_m=1.5, on="north", u=wide / 2, v=1.2)
    along = Soft(label="More clothes", material="clothes", width_m=1.2, height_m=1.5, on="east", u=deep / 2, v=1.2)
    duvet = Soft(
        label="Duvet over the door", material="duvet", width_m=1.4, height_m=2.0, on="south", u=wide / 2, v=1.1
    )
    west = Soft(label="Second duvet", material="duvet", width_m=1.4, height_m=2.0, on="west", u=deep / 2, v=1.1)
    return (), {"bare": (), "some": (coat,), "furnished": (rail, coat), "soft": (rail, along, duvet, west)}[furnishing]


def _room(size_m: Point, furnishing: str) -> Recipe:
    """A bed or sofa in the corner, shelves and a wardrobe along the walls, curtains; a large room has more of each."""
    wide, deep, high = size_m
    large = wide * deep > LARGE_M2
    curtain = Soft(
        label="Curtains",
        material="curtain-cotton",
        width_m=1.6,
        height_m=2.1,
        on="west",
        u=max(deep / 2, 1.8),
        v=min(1.15, high / 2),
    )
    chair = Placed(kind="armchair", x_m=0.55, y_m=0.55)
    rug = Soft(label="Rug", material="carpet", width_m=1.7, height_m=1.4, on="floor", u=wide / 2 + 0.2, v=deep / 2)
    bed = Placed(kind="bed", x_m=wide - 0.7, y_m=1.0, turned_deg=90)
    sofa = Placed(kind="sofa", x_m=0.95, y_m=deep - 0.5)
    shelf = Placed(kind="bookshelf", x_m=wide - 0.5, y_m=deep - 0.16)
    wardrobe = Placed(kind="wardrobe-open", x_m=wide - 2.4 if wide < 5 else 3.0, y_m=0.31)
    duvet = Soft(
        label="Duvet",
        material="duvet",
        width_m=1.4,
        height_m=2.0,
        on="north",
        u=min((wide + 0.9) / 2, wide - 1.7),
        v=1.1,
    )
    mattress = Soft(label="Mattress, upright", material="mattress", width_m=0.9, height_m=2.0, on="west", u=0.5, v=1.0)
    more = (Placed(kind="sofa", x_m=wide - 0.5, y_m=deep - 1.6, turned_deg=90),) if large else ()
    shelves = (Placed(kind="bookshelf", x_m=wide - 1.4, y_m=deep - 0.16),) if wide > 4 else ()
    others = (
        (Soft(label="More curtains", material="curtain-cotton", width_m=2.0, height_m=2.1, on="south", u=4.9, v=1.15),)
        if large
        else ()
    )
    return {
        "bare": ((), ()),
        "some": ((chair, *more), (curtain, rug)),
        "furnished": ((bed, sofa, shelf, *more, *shelves), (curtain, *others)),
        "soft": ((bed, sofa, shelf, wardrobe, *more), (curtain, duvet, mattress, *others)),
    }[furnishing]


LARGE_M2: Final = 24.0
