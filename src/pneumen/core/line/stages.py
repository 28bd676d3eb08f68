"""What a stage does to a level, for one chain or for arrays of them: `line` and the planner both use these."""

from typing import overload

import numpy as np

from pneumen.core.levels import DBU_OVER_DBV_DB, SPL_OF_ONE_PASCAL_DB, ratio_to_db


@overload
def fall_db(at_m: float, distance_m: np.ndarray) -> np.ndarray: ...
@overload
def fall_db(at_m: float, distance_m: float) -> float: ...
def fall_db(at_m: float, distance_m: float | np.ndarray) -> float | np.ndarray:
    """Return how much louder a point source is at a distance than where its level is stated.

    >>> round(fall_db(0.1, 0.2), 2)
    -6.02
    """
    return ratio_to_db(at_m / distance_m)


@overload
def microphone_dbu(sensitivity_mv_per_pa: np.ndarray) -> np.ndarray: ...
@overload
def microphone_dbu(sensitivity_mv_per_pa: float) -> float: ...
def microphone_dbu(sensitivity_mv_per_pa: float | np.ndarray) -> float | np.ndarray:
    """Return what a microphone gives out of 0 dB SPL, in dBu, nothing loading it.

    >>> round(microphone_dbu(20.0) + 94, 1)
    -31.8
    """
    return ratio_to_db(sensitivity_mv_per_pa / 1000) - SPL_OF_ONE_PASCAL_DB + DBU_OVER_DBV_DB


@overload
def whole_gain_db(
    wanted_db: np.ndarray, low_db: np.ndarray, high_db: np.ndarray, step_db: np.ndarray | float = 1.0
) -> np.ndarray: ...
@overload
def whole_gain_db(wanted_db: float, low_db: float, high_db: float, step_db: float = 1.0) -> float: ...
def whole_gain_db(
    wanted_db: float | np.ndarray,
    low_db: float | np.ndarray,
    high_db: float | np.ndarray,
    step_db: float | np.ndarray = 1.0,
) -> float | np.ndarray:
    """Return what a gain control is set to for a wanted gain: whole decibels or its own steps, as far as it reaches.

    >>> whole_gain_db(31.6, 0.0, 56.0), whole_gain_db(60.2, 0.0, 56.5), whole_gain_db(31.6, 8.0, 56.0, 6.0)
    (32.0, 56.5, 32.0)
    """
    if isinstance(wanted_db, np.ndarray):
        first = np.where(np.equal(step_db, 1.0), 0.0, low_db)  # a stepped control's steps begin at its lowest gain
        return np.clip(first + np.rint((wanted_db - first) / step_db) * step_db, low_db, high_db)
    start_db = 0.0 if step_db == 1.0 else float(low_db)
    return float(min(max(start_db + round((wanted_db - start_db) / float(step_db)) * float(step_db), low_db), high_db))
