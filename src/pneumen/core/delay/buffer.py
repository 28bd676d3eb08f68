"""The buffer: small enough to sing through, large enough for the computer."""

from dataclasses import dataclass

from pneumen.core.delay.dropouts import computer_named
from pneumen.core.delay.journey import CONVERTERS_MS, SAFETY_SAMPLES, buffer_of_ms, journey, total_ms
from pneumen.core.delay.own_voice import verdict_of_delay
from pneumen.core.verdict import Verdict


@dataclass(frozen=True, slots=True, kw_only=True)
class BufferChoice:
    """A buffer with its round trip; verdict is clear, watch or mendable, for hearing oneself through the computer."""

    samples: int
    sample_rate_hz: int
    buffer_ms: float
    round_trip_ms: float
    band_ms: float
    verdict: Verdict


def round_trip_ms(
    samples: int,
    sample_rate_hz: float,
    *,
    converters_ms: float = CONVERTERS_MS,
    safety_samples: int = SAFETY_SAMPLES,
) -> float:
    """Return the time from microphone to headphones through the computer: all segments of the journey.

    >>> round(round_trip_ms(128, 48000), 2)
    7.87
    """
    return total_ms(journey(samples, sample_rate_hz, converters_ms=converters_ms, safety_samples=safety_samples))


def choose_buffer(computer: str, sample_rate_hz: int) -> BufferChoice:
    """Return the buffer to start with on a kind of computer.

    Raises:
        UnknownName: if there is no such kind.
    """
    samples = computer_named(computer).usual
    delay_ms = round_trip_ms(samples, sample_rate_hz)
    return BufferChoice(
        samples=samples,
        sample_rate_hz=sample_rate_hz,
        buffer_ms=buffer_of_ms(samples, sample_rate_hz),
        round_trip_ms=delay_ms,
        band_ms=1.5,
        verdict=verdict_of_delay(delay_ms),
    )
