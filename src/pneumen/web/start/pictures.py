"""The small pictures beside the words of Start: line drawings of our own, 44 by 32, in currentColor."""

from typing import Final

from pneumen.core.part import SOURCES

_STROKE: Final = 'fill="none" stroke="currentColor" stroke-width="1.6" stroke-linecap="round" stroke-linejoin="round"'


def _path(*drawings: str) -> str:
    return "".join(f'<path {_STROKE} d="{drawing}"/>' for drawing in drawings)


def _room(size: float) -> str:
    """A plan of a room with a person in it, to one scale."""
    left, top = 22 - size / 2, 16 - size * 0.36
    walls = f"M{left} {top}h{size}v{size * 0.72:.1f}h-{size}z"
    return _path(walls) + '<circle cx="22" cy="16" r="2.2" fill="currentColor"/>'


def _soft(count: int) -> str:
    """The same room with soft things along its walls."""
    walls = _path("M8 5h28v22h-28z")
    spots = ((10, 7, 8, 4), (26, 20, 8, 5), (20, 7, 7, 4), (10, 20, 7, 5), (10, 13, 4, 5), (30, 12, 4, 6))
    blocks = "".join(
        f'<rect x="{x}" y="{y}" width="{w}" height="{h}" rx="1.5" fill="currentColor" fill-opacity=".55"/>'
        for x, y, w, h in spots[:count]
    )
    return walls + blocks


def _noise(arcs: int) -> str:
    """An ear's worth of waves: the more, the louder."""
    rings = tuple(
        f"M{16 + 5 * n} {10 - 1.6 * n:.1f}q{4 + n} {6 + 1.6 * n:.1f} 0 {12 + 3.2 * n:.1f}" for n in range(arcs)
    )
    return '<circle cx="11" cy="16" r="3" fill="currentColor"/>' + _path(*rings)


_GROUP_DRAWINGS: Final = {
    "voice": _path("M15 27c0-6-4-7-4-13C11 8 16 5 21 5s9 4 9 8l3 5-3 1v4h-5v4"),
    "plucked": _path("M8 6v20M14 6v20M20 6v20M26 6v20M32 6v20", "M5 26h31"),
    "bowed": _path("M6 26L38 6", "M20 8c-3 2-3 5 0 7s3 5 0 8M26 8c3 2 3 5 0 7s-3 5 0 8"),
    "winds": _path("M5 16h20c6 0 8-4 12-8v16c-4-4-6-8-12-8", "M11 16v5M16 16v5M21 16v5"),
    "keys": _path("M6 9h32v14H6z", "M12 9v14M18 9v14M25 9v14M32 9v14", "M15 9v7M28 9v7"),
    "percussion": _path("M8 11a14 5 0 1 0 28 0a14 5 0 1 0-28 0", "M8 11v12a14 5 0 0 0 28 0V11", "M30 3l-7 7"),
    "direct": _path("M4 16h14M18 11h12v10H18z", "M30 14h6v4h-6M36 16h4", "M22 11v10"),
    "amp": _path("M8 5h28v22H8z", "M15 17a7 7 0 1 0 14 0a7 7 0 1 0-14 0"),
}
"""What stands for a source that has no drawing of its own."""

PICTURES: Final = {
    "source": {
        **{slug: _GROUP_DRAWINGS[source.group] for slug, source in SOURCES.items()},
        "voice-pop": _path("M15 27c0-6-4-7-4-13C11 8 16 5 21 5s9 4 9 8l3 5-3 1v4h-5v4", "M34 16q3 0 5-2M34 21q3 0 5 2"),
        "spoken-word": _path(
            "M8 8h20a4 4 0 0 1 4 4v6a4 4 0 0 1-4 4H18l-6 5v-5H8a4 4 0 0 1-4-4v-6a4 4 0 0 1 4-4z", "M10 13h15M10 17h10"
        ),
        "acoustic-guitar": _path(
            "M17 12c-4-3-11 0-11 7s7 10 11 7c2-1 3-1 5-1 3 0 5-3 5-6s-2-6-5-6c-2 0-3 0-5-1z",
            "M26 16L41 6",
            "M13 19a3 3 0 1 0 6 0a3 3 0 1 0-6 0",
        ),
        "lever-harp": _path("M12 28V8c6-4 8 4 13 2 4-2 6-4 8-4L16 28z", "M16 11v13M20 12v9M24 12v5"),
        "clarinet": _path("M6 27l4-2L33 7l3-3M8 29l4-2L35 9", "M18 19l2 2M22 16l2 2M26 13l2 2", "M5 24l5 7"),
        "hand-drum": _path("M8 11a14 5 0 1 0 28 0a14 5 0 1 0-28 0", "M8 11l4 15a10 4 0 0 0 20 0l4-15"),
    },
    "size": {"closet": _room(12), "small": _room(20), "medium": _room(28), "large": _room(40)},
    "furnishing": {"bare": _soft(0), "some": _soft(2), "furnished": _soft(4), "soft": _soft(6)},
    "noise": {
        "still": _noise(0),
        "quiet": _noise(1),
        "ordinary": _noise(2),
        "noisy": _noise(4),
        "unknown": _path("M18 11a4.5 4.5 0 1 1 6 4.3c-1.6.8-2 1.7-2 3.7M22 24v.3"),
    },
}
