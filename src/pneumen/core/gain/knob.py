"""What a bare knob leaves open: a share of its turn, never a decibel claimed."""

from typing import Final

KNOB_BAND: Final = 0.2
"""Makers' tapers differ by about a fifth of the turn (common practice, no source)."""
UNKNOWN_START_DB: Final = 3.0
"""A map tells what a turn brings, not the gain at its left stop: that stays as open as sheets leave it (estimate)."""
