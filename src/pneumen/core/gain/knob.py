"""What a bare knob can tell: a share of its turn, never a decibel claimed."""

from typing import Final

KNOB_BAND: Final = 0.2
"""Makers' tapers differ by about a fifth of the turn (common practice, no source)."""


def gain_at_share(share: float, range_db: tuple[float, float]) -> float:
    """Return the gain a knob is taken to give at a share of its turn, 0 to 1: even steps in dB."""
    low, high = range_db
    return low + min(max(share, 0.0), 1.0) * (high - low)


def share_at_gain(gain_db: float, range_db: tuple[float, float]) -> float:
    """Return the share of the turn at which a knob is taken to give a gain, clamped to the turn.

    >>> share_at_gain(26, (0, 52))
    0.5
    """
    low, high = range_db
    return min(max((gain_db - low) / (high - low), 0.0), 1.0) if high > low else 0.0
