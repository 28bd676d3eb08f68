"""What sounds at the microphone: through the day, and at this hour by octave."""

import numpy as np

from pneumen.core.forecast import PartSetup, noise_at_microphone
from pneumen.core.room import BANDS_HZ, heard_of
from pneumen.wording.figures import figure
from pneumen.wording.language import _


def hours_of(here: PartSetup) -> tuple[tuple[str, str, bool], ...]:
    """The noise at the microphone through the day, where anything keeps hours."""
    space = here.drawn_space
    if not any((one.from_hour, one.to_hour) != (0, 24) for one in space.noises):
        return ()
    sounding = [tuple(one.sounds_at(float(hour)) for one in space.noises) for hour in range(24)]
    level_of = {  # hours in which the same things sound are alike
        alike: noise_at_microphone(space.at_hour(float(sounding.index(alike))), here.placement, here.pattern)
        for alike in set(sounding)
    }
    levels = [(hour, level_of[alike]) for hour, alike in enumerate(sounding)]
    quietest = min(level for _rest, level in levels)
    spans: list[tuple[int, int, float]] = []
    for hour, level in levels:
        if spans and abs(spans[-1][2] - level) < 0.5:
            spans[-1] = (spans[-1][0], hour + 1, spans[-1][2])
        else:
            spans.append((hour, hour + 1, level))
    return tuple(
        (_("{low} to {high}").format(low=low, high=high), figure(level), level < quietest + 0.5)
        for low, high, level in spans
    )


def noise_bands_of(here: PartSetup) -> tuple[tuple[str, str], ...]:
    """What sounds at this hour at the microphone, by octave and A-weighted; the background has no spectrum."""
    space, place = here.drawn_space, here.placement
    sounding = [one for one in space.noises if one.sounds_at(space.hour)]
    if not sounding:
        return ()
    heard = heard_of(space.box, sounding, place.microphone_m, place.axis, here.pattern)
    bands = 10 * np.log10(sum(10 ** (one.bands_dba / 10) for one in heard))
    labels = (str(band) if band < 1000 else f"{band // 1000} k" for band in BANDS_HZ)
    return tuple((label, figure(float(level))) for label, level in zip(labels, bands, strict=True))
