"""Delay: one syllable's journey, how often a buffer is lost, hearing oneself late, and measuring the way round."""

from pneumen.core.delay.buffer import BufferChoice, choose_buffer, round_trip_ms
from pneumen.core.delay.dropouts import (
    BUFFERS,
    COMPUTERS,
    LIKELY,
    UNKNOWN,
    UNLIKELY,
    Chance,
    Computer,
    Seen,
    chances,
    dropouts_per_minute,
    smallest_safe,
)
from pneumen.core.delay.journey import CONVERTERS_MS, SAFETY_SAMPLES, Segment, buffer_of_ms, journey, total_ms
from pneumen.core.delay.loopback import Loop, NotThere, loop_of
from pneumen.core.delay.own_voice import BEARABLE, COLOURS_MS, Bearable, Comb, bearable_for, comb_of, verdict_of_delay
from pneumen.core.delay.sweep import sweep, test_signal

__all__ = [
    "BEARABLE",
    "BUFFERS",
    "COLOURS_MS",
    "COMPUTERS",
    "CONVERTERS_MS",
    "LIKELY",
    "SAFETY_SAMPLES",
    "UNKNOWN",
    "UNLIKELY",
    "Bearable",
    "BufferChoice",
    "Chance",
    "Comb",
    "Computer",
    "Loop",
    "NotThere",
    "Seen",
    "Segment",
    "bearable_for",
    "buffer_of_ms",
    "chances",
    "choose_buffer",
    "comb_of",
    "dropouts_per_minute",
    "journey",
    "loop_of",
    "round_trip_ms",
    "smallest_safe",
    "sweep",
    "test_signal",
    "total_ms",
    "verdict_of_delay",
]
