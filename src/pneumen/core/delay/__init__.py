"""The buffer to choose and what it costs in time."""

from pneumen.core.delay.buffer import COMPUTERS, BufferChoice, choose_buffer, round_trip_ms, verdict_of_delay

__all__ = ["COMPUTERS", "BufferChoice", "choose_buffer", "round_trip_ms", "verdict_of_delay"]
