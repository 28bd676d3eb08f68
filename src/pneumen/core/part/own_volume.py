"""An instrument's own volume control as a gain stage."""

import math
from typing import Final

from pneumen.core.errors import require_within

USUAL_VOLUME: Final = 0.75
"""Line instruments are recorded at 70 to 80 % of their own volume (common practice, no source): levels are told so."""
LEAST_VOLUME: Final = 0.05
TAPER_DB_PER_DECADE: Final = 40.0
"""A volume control is about a square law of its way (common practice, no source)."""


def own_volume_db(share: float) -> float:
    """Return what an instrument's own volume does to its level, against the usual three quarters.

    Args:
        share: of the control's way, 0.05 to 1.

    >>> own_volume_db(0.75), round(own_volume_db(1.0), 1), round(own_volume_db(0.375), 1)
    (0.0, 5.0, -12.0)
    """
    require_within("own_volume", share, LEAST_VOLUME, 1)
    return TAPER_DB_PER_DECADE * math.log10(share / USUAL_VOLUME)
