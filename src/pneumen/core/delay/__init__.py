"""Delay: one syllable's journey, how often a buffer is lost, hearing oneself late, and measuring the way round."""

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
from pneumen.core.delay.journey import (
    CONVERTERS_MS,
    SAFETY_SAMPLES,
    Segment,
    buffer_of_ms,
    journey,
    round_trip_ms,
    total_ms,
)
from pneumen.core.delay.loopback import Loop, NotThere, loop_of, recording_clips
from pneumen.core.delay.own_voice import BEARABLE, COLOURS_MS, Bearable, Comb, bearable_for, comb_of, verdict_of_delay
from pneumen.core.delay.plan import BAND_MS, LOADS, MIXING_BUFFER, DelayPlan, DeviceDelay, plan_delay
from pneumen.core.delay.sweep import sweep, test_signal

__all__ = [
    "BAND_MS",
    "BEARABLE",
    "BUFFERS",
    "COLOURS_MS",
    "COMPUTERS",
    "CONVERTERS_MS",
    "LIKELY",
    "LOADS",
    "MIXING_BUFFER",
    "SAFETY_SAMPLES",
    "UNKNOWN",
    "UNLIKELY",
    "Bearable",
    "Chance",
    "Comb",
    "Computer",
    "DelayPlan",
    "DeviceDelay",
    "Loop",
    "NotThere",
    "Seen",
    "Segment",
    "bearable_for",
    "buffer_of_ms",
    "chances",
    "comb_of",
    "dropouts_per_minute",
    "journey",
    "loop_of",
    "plan_delay",
    "recording_clips",
    "round_trip_ms",
    "smallest_safe",
    "sweep",
    "test_signal",
    "total_ms",
    "verdict_of_delay",
]
