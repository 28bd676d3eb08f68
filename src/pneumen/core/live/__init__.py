"""Listening at an input: the level as it comes, when a take begins and ends, and what to do about it in one word."""

from pneumen.core.live.armed import (
    ARMED,
    BEFORE_S,
    ENDED,
    LISTENING,
    MOST_QUIET_S,
    PHASES,
    QUIET_S,
    RECORDING,
    Heard,
    again,
    heard,
    pressed,
    stopped,
)
from pneumen.core.live.meter import PIECE_S, TRAIL_S, Piece, floor_dbfs_of, held_dbfs_of
from pneumen.core.live.origin import PROCESSING, Origin, Stream, arrived, processed_by
from pneumen.core.live.word import BY_DISTANCE, BY_GAIN, LiveWord, set_by, word_of

__all__ = [
    "ARMED",
    "BEFORE_S",
    "BY_DISTANCE",
    "BY_GAIN",
    "ENDED",
    "LISTENING",
    "MOST_QUIET_S",
    "PHASES",
    "PIECE_S",
    "PROCESSING",
    "QUIET_S",
    "RECORDING",
    "TRAIL_S",
    "Heard",
    "LiveWord",
    "Origin",
    "Piece",
    "Stream",
    "again",
    "arrived",
    "floor_dbfs_of",
    "heard",
    "held_dbfs_of",
    "pressed",
    "processed_by",
    "set_by",
    "stopped",
    "word_of",
]
