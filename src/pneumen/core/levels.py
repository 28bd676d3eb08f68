"""Decibels and the units they come from."""

import math
from typing import Final, overload

import numpy as np

__all__ = [
    "BOLTZMANN_J_PER_K",
    "DBU_OVER_DBV_DB",
    "DBU_REFERENCE_V",
    "FULL_SCALE_SINE_RMS_DB",
    "FULL_SCALE_TOUCHED",
    "LOWEST_DB",
    "REFERENCE_PRESSURE_PA",
    "SPEED_OF_SOUND_M_S",
    "SPL_OF_ONE_PASCAL_DB",
    "a_weighting_db",
    "a_weighting_of_white_noise_db",
    "band_of_sum_db",
    "db_to_ratio",
    "dbu_to_volt",
    "dbv_to_dbu",
    "divider_db",
    "frame_powers",
    "pascal_to_spl_db",
    "power_difference_db",
    "power_sum_db",
    "ratio_to_db",
    "safe_hours",
    "spl_db_to_pascal",
    "thermal_noise_dbu",
]

SPEED_OF_SOUND_M_S: Final = 343.0
"""In air at 20 degrees Celsius."""

REFERENCE_PRESSURE_PA: Final = 20e-6
"""Reference sound pressure, 20 uPa RMS (ISO 1683:2015)."""

SPL_OF_ONE_PASCAL_DB: Final = 94.0
"""Data sheets call 1 Pa 94 dB SPL (exactly 93.98); the trade's convention, used throughout."""

DBU_REFERENCE_V: Final = math.sqrt(0.6)
"""0 dBu: the voltage that puts 1 mW into 600 ohm, 0.7746 V."""

DBU_OVER_DBV_DB: Final = -20 * math.log10(DBU_REFERENCE_V)
"""A level in dBu reads this much higher than in dBV: 2.218 dB."""

FULL_SCALE_SINE_RMS_DB: Final = -20 * math.log10(math.sqrt(2))
"""RMS of a sine whose peak is full scale: -3.01 dBFS on the scale used for every RMS figure."""

FULL_SCALE_TOUCHED: Final = 0.9999
"""A sample so high touches full scale: the highest a 16-bit file holds does, at 0.99997."""

BOLTZMANN_J_PER_K: Final = 1.380649e-23
"""Boltzmann constant (SI, 2019)."""

LOG_OF_A_DB: Final = math.log(10) / 10
"""Natural logarithm of a decibel of power: arrays take exp faster than a power of ten."""

LOWEST_DB: Final = -200.0
"""Stands for 'nothing there' where a logarithm would be minus infinity; below any real noise."""

LOWEST_RATIO: Final = 10 ** (LOWEST_DB / 20)


@overload
def ratio_to_db(ratio: np.ndarray) -> np.ndarray: ...
@overload
def ratio_to_db(ratio: float) -> float: ...
def ratio_to_db(ratio: float | np.ndarray) -> float | np.ndarray:
    """Express an amplitude ratio, or an array of them, in dB, LOWEST_DB for nothing at all.

    >>> round(ratio_to_db(2), 2)
    6.02
    """
    if isinstance(ratio, np.ndarray):
        return 20 * np.log10(np.maximum(ratio, LOWEST_RATIO))
    return 20 * math.log10(ratio) if ratio > LOWEST_RATIO else LOWEST_DB


def frame_powers(samples: np.ndarray, frame: int) -> np.ndarray:
    """Return the mean square of one channel (N,) in frames of so many samples; what is left over at the end is dropped.

    >>> frame_powers(np.array([1.0, 1.0, 2.0, 2.0, 9.0]), 2)
    array([1., 4.])
    """
    count = len(samples) // frame
    return np.square(samples[: count * frame].reshape(count, frame)).mean(axis=1)


def db_to_ratio(level_db: float) -> float:
    """Turn dB into an amplitude ratio.

    >>> db_to_ratio(20)
    10.0
    """
    return 10 ** (level_db / 20)


def spl_db_to_pascal(level_db_spl: float) -> float:
    """Turn a sound pressure level into pascals RMS, 94 dB being 1 Pa by convention."""
    return db_to_ratio(level_db_spl - SPL_OF_ONE_PASCAL_DB)


def pascal_to_spl_db(pressure_pa: float) -> float:
    """Turn pascals RMS into a sound pressure level, 1 Pa being 94 dB by convention."""
    return ratio_to_db(pressure_pa) + SPL_OF_ONE_PASCAL_DB


def dbv_to_dbu(level_dbv: float) -> float:
    """Turn a level re 1 V into one re 0.7746 V.

    >>> round(dbv_to_dbu(-34.0), 2)
    -31.78
    """
    return level_dbv + DBU_OVER_DBV_DB


def dbu_to_volt(level_dbu: float) -> float:
    """Turn dBu into volts RMS.

    >>> round(dbu_to_volt(4), 3)
    1.228
    """
    return DBU_REFERENCE_V * db_to_ratio(level_dbu)


@overload
def divider_db(source_ohm: np.ndarray, load_ohm: float | np.ndarray) -> np.ndarray: ...
@overload
def divider_db(source_ohm: float | np.ndarray, load_ohm: np.ndarray) -> np.ndarray: ...
@overload
def divider_db(source_ohm: float, load_ohm: float) -> float: ...
def divider_db(source_ohm: float | np.ndarray, load_ohm: float | np.ndarray) -> float | np.ndarray:
    """Return what is lost when a source works into a load, or each of arrays of them (a negative figure, dB).

    >>> round(divider_db(150, 1500), 2)
    -0.83
    """
    return ratio_to_db(load_ohm / (load_ohm + source_ohm))


@overload
def power_sum_db(first_db: np.ndarray, *levels_db: float | np.ndarray) -> np.ndarray: ...
@overload
def power_sum_db(first_db: float, *levels_db: float) -> float: ...
def power_sum_db(first_db: float | np.ndarray, *levels_db: float | np.ndarray) -> float | np.ndarray:
    """Add independent noises by their power; arrays element by element, the first of them being one.

    >>> round(power_sum_db(-70, -70), 2)
    -66.99
    """
    if isinstance(first_db, np.ndarray):
        return 10 * np.log10(sum((np.exp(level * LOG_OF_A_DB) for level in levels_db), np.exp(first_db * LOG_OF_A_DB)))
    return 10 * math.log10(sum((10 ** (level / 10) for level in levels_db), 10 ** (first_db / 10)))


def power_difference_db(total_db: float, part_db: float) -> float | None:
    """Return what is left of a noise when a known part is taken out; None where nothing is left.

    >>> round(power_difference_db(-66.99, -70), 1)
    -70.0
    """
    left = 10 ** (total_db / 10) - 10 ** (part_db / 10)
    return 10 * math.log10(left) if left > 0 else None


def band_of_sum_db(*bands_db: float) -> float:
    """Combine independent uncertainties (plus or minus, dB) by root sum of squares (JCGM 100:2008, 5.1.2)."""
    return math.sqrt(sum(band * band for band in bands_db))


def thermal_noise_dbu(resistance_ohm: float, *, bandwidth_hz: float = 20_000, temperature_k: float = 293) -> float:
    """Return the unweighted thermal noise of a resistance (Johnson 1928, Nyquist 1928).

    >>> round(thermal_noise_dbu(150), 1)
    -130.9
    """
    volt = math.sqrt(4 * BOLTZMANN_J_PER_K * temperature_k * resistance_ohm * bandwidth_hz)
    return ratio_to_db(volt / DBU_REFERENCE_V)


def a_weighting_db(frequency_hz: np.ndarray | float) -> np.ndarray:
    """Return the A-weighting at each frequency (IEC 61672-1:2013, Annex E), -inf at 0 Hz.

    >>> round(float(a_weighting_db(100.0)), 1)
    -19.1
    """
    squared = np.square(np.asarray(frequency_hz, dtype=float))
    low, high = 20.598997**2, 12194.217**2
    poles = (squared + low) * np.sqrt((squared + 107.65265**2) * (squared + 737.86223**2)) * (squared + high)
    with np.errstate(divide="ignore"):
        return 20 * np.log10(high * squared**2 / poles) + 2.0


def a_weighting_of_white_noise_db(*, low_hz: float = 20, high_hz: float = 20_000) -> float:
    """Return how much lower white noise between two frequencies reads with A-weighting.

    >>> round(a_weighting_of_white_noise_db(), 1)
    -2.0
    """
    frequency_hz = np.linspace(low_hz, high_hz, 4000)
    return float(10 * np.log10(np.mean(10 ** (a_weighting_db(frequency_hz) / 10))))


SAFE_DBA: Final = 85.0
SAFE_HOURS: Final = 8.0
EXCHANGE_DB: Final = 3.0
"""NIOSH recommended exposure limit (1998): 85 dBA for 8 hours, each 3 dB more halves the time."""


def safe_hours(level_dba: float) -> float:
    """Return how long a level may be heard in a day (NIOSH, 1998).

    >>> safe_hours(94)
    1.0
    """
    return SAFE_HOURS / 2 ** ((level_dba - SAFE_DBA) / EXCHANGE_DB)
