"""A room in everyday words, turned into the few figures the plan needs. All of it is estimate and says so."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from pneumen.core.errors import UnknownName, require_positive, require_within
from pneumen.core.room.reverberation import reverberation_time_eyring_s

SIZES: Final[Mapping[str, tuple[str, float]]] = {
    "closet": ("Closet or booth, one step across", 6.0),
    "small": ("Small room, about 3 by 3 m", 24.0),
    "medium": ("Bedroom or living room, about 4 by 4 m", 40.0),
    "large": ("Large room, 5 by 6 m or more", 75.0),
}
"""Volume in m3 of each size (estimate)."""

FURNISHINGS: Final[Mapping[str, tuple[str, float]]] = {
    "bare": ("Bare: hard floor, empty walls, claps ring", 0.07),
    "some": ("Some soft things: a rug, curtains, a chair", 0.16),
    "furnished": ("Furnished: bed or sofa, carpet, full shelves", 0.27),
    "soft": ("Soft all round: duvets, clothes, mattresses", 0.45),
}
"""Mean absorption coefficient from 500 Hz to 4 kHz (estimate)."""

NOISES: Final[Mapping[str, tuple[str, float, float]]] = {
    "still": ("Still: you hear your own breath", 22.0, 5.0),
    "quiet": ("Quiet: a clock would be heard", 28.0, 5.0),
    "ordinary": ("Ordinary: a fridge, a computer, some street", 35.0, 5.0),
    "noisy": ("Noisy: fans, traffic, neighbours", 43.0, 5.0),
    "unknown": ("I don't know", 33.0, 8.0),
}
"""Background level in dBA and its band (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Room:
    """What the plan knows of a room."""

    volume_m3: float
    rt60_s: float
    noise_dba: float
    noise_band_db: float

    def __post_init__(self) -> None:
        require_positive("volume_m3", self.volume_m3, 20_000)
        require_positive("rt60_s", self.rt60_s, 20)
        require_within("noise_dba", self.noise_dba, -20, 140)
        require_within("noise_band_db", self.noise_band_db, 0, 40)


def room_from_words(size: str, furnishing: str, noise: str) -> Room:
    """Return a room from three words.

    The surface is that of a box a little longer than wide (1.27 : 1.13 : 0.7), its ring time Eyring's.

    Raises:
        UnknownName: for a word no table holds.

    >>> round(room_from_words("medium", "furnished", "quiet").rt60_s, 2)
    0.28
    """
    for field, word, table in (
        ("size", size, SIZES),
        ("furnishing", furnishing, FURNISHINGS),
        ("noise", noise, NOISES),
    ):
        if word not in table:
            raise UnknownName(field, word, tuple(table))
    volume_m3 = SIZES[size][1]
    surface_m2 = 2 * (1.27 * 1.13 + 1.27 * 0.7 + 1.13 * 0.7) * volume_m3 ** (2 / 3)
    _, noise_dba, noise_band_db = NOISES[noise]
    return Room(
        volume_m3=volume_m3,
        rt60_s=reverberation_time_eyring_s(volume_m3, surface_m2, FURNISHINGS[furnishing][1]),
        noise_dba=noise_dba,
        noise_band_db=noise_band_db,
    )
