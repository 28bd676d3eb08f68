"""Where the next decibels pay: what a quieter stage would do for the clean range."""

from collections.abc import Mapping
from typing import Final

from pneumen.core.levels import power_sum_db
from pneumen.core.line.levels import Levels

QUIETER_DB: Final = 6.0
NOTICED_DB: Final = 0.5
"""Less than that is no reason to do anything."""


def worth_by_stage_db(levels: Levels, quieter_db: float = QUIETER_DB) -> Mapping[str, float]:
    """Return by how much the clean range grows where one stage alone is so much quieter, best first.

    More gain is a quieter converter: signal and all noises before it rise together, its own does not.

    >>> from pneumen.core.gear import UsbMicrophone
    >>> from pneumen.core.line.levels import levels_of
    >>> from pneumen.core.setup import SourceLevels, UsbSetup
    >>> voice = SourceLevels(peak_db_spl=108, typical_db_spl=94, quiet_db_spl=80, at_m=0.1)
    >>> usb = UsbMicrophone(full_scale_db_spl=120, self_noise_dba=18)
    >>> found = levels_of(UsbSetup(source=voice, distance_m=0.2, room_noise_dba=32, microphone=usb))
    >>> {stage: round(worth, 1) for stage, worth in worth_by_stage_db(found).items()}
    {'room': 5.5, 'microphone': 0.1}
    """
    noises = levels.noise_by_stage_dbfs
    worths = {}
    for stage, noise_dbfs in noises.items():
        others = [one for name, one in noises.items() if name != stage]
        worths[stage] = levels.noise_dbfs - power_sum_db(*others, noise_dbfs - quieter_db)
    return dict(sorted(worths.items(), key=lambda item: -item[1]))


def gain_still_helps(levels: Levels) -> bool:
    """Tell whether more gain makes the file cleaner: only the converter's noise stays behind."""
    return worth_by_stage_db(levels).get("converter", 0.0) >= NOTICED_DB
