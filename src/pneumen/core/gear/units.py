"""Data sheets print the same fact in several units; these turn each into the one the core works in."""

from pneumen.core.errors import require_within
from pneumen.core.levels import SPL_OF_ONE_PASCAL_DB, a_weighting_of_white_noise_db, db_to_ratio


def dbv_per_pa_to_mv_per_pa(sensitivity_dbv_per_pa: float) -> float:
    """Turn a sensitivity printed in dBV/Pa (dB re 1 V/Pa) into mV/Pa.

    Raises:
        OutOfRange: outside -90 to -10 dBV/Pa, where no microphone lies.

    >>> round(dbv_per_pa_to_mv_per_pa(-34), 2)
    19.95
    """
    require_within("sensitivity_dbv_per_pa", sensitivity_dbv_per_pa, -90, -10)
    return 1000 * db_to_ratio(sensitivity_dbv_per_pa)


def self_noise_from_signal_to_noise(signal_to_noise_dba: float) -> float:
    """Turn a signal-to-noise ratio re 94 dB SPL, A-weighted, into self-noise in dBA.

    Raises:
        OutOfRange: outside 40 to 94 dB.

    >>> self_noise_from_signal_to_noise(78)
    16.0
    """
    require_within("signal_to_noise_dba", signal_to_noise_dba, 40, 94)
    return SPL_OF_ONE_PASCAL_DB - signal_to_noise_dba


def ein_to_weighted_dbu(ein_dbu: float) -> float:
    """Turn an unweighted EIN (20 Hz to 20 kHz) into an A-weighted one, taking its noise as white.

    >>> round(ein_to_weighted_dbu(-128), 1)
    -130.0
    """
    return ein_dbu + a_weighting_of_white_noise_db()
