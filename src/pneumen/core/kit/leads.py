"""How long cables have to be, and how long shops sell them."""

from typing import Final

CABLE_M: Final = 3.0
LINE_CABLE_M: Final = 2.0
"""How long a cable has to be at the least, from a stand to a desk, from a desk to a loudspeaker (common practice)."""
SHOP_LENGTHS_M: Final = (3.0, 5.0, 6.0, 10.0, 15.0, 20.0)
"""The lengths there are (common practice, no source)."""


def shop_length_m(run_m: float | None) -> float:
    """Return the cable to take for a run: the shortest there is that reaches; where none is long enough, the longest.

    >>> shop_length_m(None), shop_length_m(3.6), shop_length_m(40.0)
    (3.0, 5.0, 20.0)
    """
    if run_m is None:
        return CABLE_M
    return next((length for length in SHOP_LENGTHS_M if length >= run_m), SHOP_LENGTHS_M[-1])
