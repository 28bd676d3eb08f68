"""The fewest gain settings that keep every section in a window, and where the schools agree."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from pneumen.core.errors import require_positive


@dataclass(frozen=True, slots=True, kw_only=True)
class Setting:
    """One gain and the sections it serves, by their indices."""

    gain_db: float
    sections: tuple[int, ...]


def fewest_settings(
    peaks_dbfs: Sequence[float],
    gain_db: float,
    window_dbfs: tuple[float, float],
    reach_db: tuple[float, float],
    *,
    step_db: float = 1.0,
) -> tuple[Setting, ...]:
    """Return the fewest gains with which each section's peak lies in a window, the lowest gain first.

    Exact: each section allows an interval of gains; points that pierce all intervals are fewest where each is taken at
    the earliest end that is left (a classic of interval scheduling). Gains are steps of the control; a section that no
    reachable gain brings into the window takes the nearest end of the reach.

    Args:
        peaks_dbfs: each section's peak at gain_db.

    >>> [one.gain_db for one in fewest_settings((-9.0, -12.0, -20.0), 20.0, (-12.0, -6.0), (0.0, 50.0))]
    [20.0, 31.0]
    """
    require_positive("step_db", step_db)
    low_dbfs, high_dbfs = window_dbfs
    first_db = 0.0 if step_db == 1.0 else reach_db[0]  # a stepped control's steps begin at its lowest gain
    gain_db, reach_db = gain_db - first_db, (reach_db[0] - first_db, reach_db[1] - first_db)
    wanted = []
    for number, peak_dbfs in enumerate(peaks_dbfs):
        low = _up(gain_db + low_dbfs - peak_dbfs, step_db)
        high = _down(gain_db + high_dbfs - peak_dbfs, step_db)
        middle = gain_db + (low_dbfs + high_dbfs) / 2 - peak_dbfs
        if low > high:  # the window is narrower than a step
            low = high = round(middle / step_db) * step_db
        wanted.append(
            (min(max(low, reach_db[0]), reach_db[1]), min(max(high, reach_db[0]), reach_db[1]), middle, number)
        )
    found: list[Setting] = []
    left = sorted(wanted, key=lambda one: one[1])
    while left:
        most = left[0][1]
        served = [one for one in left if one[0] <= most]
        left = [one for one in left if one[0] > most]
        # Within what serves them all, nearest to where the loudest of them would have it.
        least, aim = max(one[0] for one in served), min(one[2] for one in served)
        chosen = min(max(round(aim / step_db) * step_db, least), most)
        found.append(Setting(gain_db=chosen + first_db, sections=tuple(sorted(one[3] for one in served))))
    return tuple(sorted(found, key=lambda one: one.gain_db))


def _up(value: float, step: float) -> float:
    return -(-round(value / step, 6) // 1) * step


def _down(value: float, step: float) -> float:
    return round(value / step, 6) // 1 * step


@dataclass(frozen=True, slots=True, kw_only=True)
class Agreement:
    """The gains on which most schools agree, and which these are."""

    low_db: float
    high_db: float
    schools: tuple[str, ...]


def agreement_of(windows_db: Mapping[str, tuple[float, float]]) -> Agreement:
    """Return the range of gains that lies in the most windows; of several the lowest, for lower is safer.

    Args:
        windows_db: each school's lowest and highest gain, by its slug.

    >>> agreement_of({"a": (10.0, 16.0), "b": (14.0, 20.0), "c": (30.0, 31.0)}).schools
    ('a', 'b')
    """
    best: tuple[int, float, float] = (0, 0.0, 0.0)
    for begin in sorted({low for low, _ in windows_db.values()}):
        holding = [name for name, (low, high) in windows_db.items() if low <= begin <= high]
        if len(holding) > best[0]:
            best = (len(holding), begin, min(windows_db[name][1] for name in holding))
    _, low_db, high_db = best
    return Agreement(
        low_db=low_db,
        high_db=high_db,
        schools=tuple(name for name, (low, high) in windows_db.items() if low <= low_db <= high),
    )
