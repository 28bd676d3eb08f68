"""A knob in words: positions by the clock, and what a map says."""

from typing import Final

from pneumen.core.gear import Taper
from pneumen.wording.figures import figure
from pneumen.wording.language import _

HOURS: Final = (
    _("twelve"),
    _("one"),
    _("two"),
    _("three"),
    _("four"),
    _("five"),
    _("six"),
    _("seven"),
    _("eight"),
    _("nine"),
    _("ten"),
    _("eleven"),
)
FIRST_HOUR, HOURS_ROUND = 7.0, 10.0
"""A knob turns from seven o'clock round to five (common practice, no source)."""
STOPS: Final = (_("left stop"), _("right stop"))
O_CLOCK: Final = _("{hour} o’clock")
JUST_PAST: Final = _("just past {hour}")
HALF_PAST: Final = _("half past {hour}")
JUST_BEFORE: Final = _("just before {hour}")
NEAR_STOP: Final = 0.01
MAPPED: Final = _(
    "{count} readings: {range} dB from stop to stop, ±{error} dB between them. From here on advice for this knob goes "
    "by its map."
)


FULL_SCALE: Final = _("At its left stop the input takes {dbu} dBu: levels are absolute from here on.")
SIMULATED: Final = _("Simulated: it says nothing of your own knob.")


def clock_told(share: float) -> str:
    """Say where a knob points at a share of its turn.

    >>> clock_told(0.5), clock_told(0.62), clock_told(1.0)
    ('twelve o’clock', 'just past one', 'right stop')
    """
    if share <= NEAR_STOP:
        return STOPS[0]
    if share >= 1 - NEAR_STOP:
        return STOPS[1]
    hours = FIRST_HOUR + HOURS_ROUND * share
    quarter = round(4 * hours)
    hour, rest = HOURS[(quarter // 4) % 12], quarter % 4
    if rest == 0:
        return O_CLOCK.format(hour=hour)
    if rest == 3:
        return JUST_BEFORE.format(hour=HOURS[(quarter // 4 + 1) % 12])
    return (JUST_PAST if rest == 1 else HALF_PAST).format(hour=hour)


def map_told(taper: Taper, *, simulated: bool) -> str:
    """Say what a map holds."""
    told = MAPPED.format(count=len(taper.shares), range=figure(taper.range_db), error=figure(taper.error_db, 1))
    return f"{told} {SIMULATED}" if simulated else told
