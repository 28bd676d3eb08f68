"""The buffer: small enough to sing through, large enough for the computer."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from pneumen.core.errors import UnknownName, require_positive, require_within
from pneumen.core.verdict import Verdict

COMPUTERS: Final[Mapping[str, tuple[str, int]]] = {
    "old-laptop": ("An old or slow laptop", 512),
    "laptop": ("A laptop of the last few years", 256),
    "desktop": ("A desktop computer", 128),
}
"""The buffer each kind runs without dropouts while recording one track (common practice, no source)."""
CONVERTERS_MS: Final = 1.2
SAFETY_SAMPLES: Final = 32
"""Converters both ways and a driver's safety offset each way (common practice, no source)."""


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
    """Return the time from microphone to headphones through the computer.

    An input and an output buffer, the safety offset once each way, and the converters both ways.

    >>> round(round_trip_ms(128, 48000), 2)
    7.87
    """
    require_positive("samples", samples, 65_536)
    require_within("sample_rate_hz", sample_rate_hz, 8000, 192_000)
    return 2000 * (samples + safety_samples) / sample_rate_hz + converters_ms


def verdict_of_delay(delay_ms: float) -> Verdict:
    """Judge a delay of one's own sound: under 6 ms clear, to 12 watch, over it mendable (common practice)."""
    return Verdict.CLEAR if delay_ms < 6 else Verdict.WATCH if delay_ms <= 12 else Verdict.MENDABLE


def choose_buffer(computer: str, sample_rate_hz: int) -> BufferChoice:
    """Return the buffer to start with on a kind of computer.

    Raises:
        UnknownName: if there is no such kind.
    """
    if computer not in COMPUTERS:
        raise UnknownName("computer", computer, tuple(COMPUTERS))
    samples = COMPUTERS[computer][1]
    delay_ms = round_trip_ms(samples, sample_rate_hz)
    return BufferChoice(
        samples=samples,
        sample_rate_hz=sample_rate_hz,
        buffer_ms=1000 * samples / sample_rate_hz,
        round_trip_ms=delay_ms,
        band_ms=1.5,
        verdict=verdict_of_delay(delay_ms),
    )
