"""One syllable's journey: from the lips to the ear through the computer, segment by segment."""

from dataclasses import dataclass
from typing import Final

from pneumen.core.errors import require_positive, require_within
from pneumen.core.levels import SPEED_OF_SOUND_M_S

CONVERTERS_MS: Final = 1.2
SAFETY_SAMPLES: Final = 32
"""Converters both ways and a driver's safety offset each way (common practice, no source)."""
LARGEST_BUFFER: Final = 65_536
LOWEST_RATE_HZ, HIGHEST_RATE_HZ = 8_000, 384_000
MOST_CONVERTERS_MS: Final = 200.0
MOST_PLUGIN_SAMPLES: Final = 192_000
"""A second at the highest rate: no plug-in looks ahead so far (common practice, no source)."""
FARTHEST_M: Final = 100.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Segment:
    """One stretch of the way: its name, and how long it takes."""

    name: str
    ms: float


def journey(
    samples: int,
    sample_rate_hz: float,
    *,
    converters_ms: float = CONVERTERS_MS,
    safety_samples: int = SAFETY_SAMPLES,
    plugin_samples: int = 0,
    speaker_m: float = 0.0,
    measured_ms: float | None = None,
) -> tuple[Segment, ...]:
    """Return the way of a sound into the computer and back to the ear, in order.

    Args:
        samples: the buffer.
        converters_ms: both converters together.
        safety_samples: the driver's offset, once each way.
        plugin_samples: what plug-ins on the way look ahead.
        speaker_m: how far a monitor stands off; 0 for headphones.
        measured_ms: a data sheet's round trip at this buffer, which takes the place of safety offset and converters.

    Raises:
        OutOfRange: naming what no device does.
    """
    require_within("buffer", samples, 1, LARGEST_BUFFER)
    require_within("sample_rate_hz", sample_rate_hz, LOWEST_RATE_HZ, HIGHEST_RATE_HZ)
    require_within("converters_ms", converters_ms, 0, MOST_CONVERTERS_MS)
    require_within("safety_samples", safety_samples, 0, LARGEST_BUFFER)
    require_within("plugin_samples", plugin_samples, 0, MOST_PLUGIN_SAMPLES)
    require_within("speaker_m", speaker_m, 0, FARTHEST_M)
    buffer_ms = buffer_of_ms(samples, sample_rate_hz)
    plugins = Segment(name="plug-ins", ms=1000 * plugin_samples / sample_rate_hz)
    air = Segment(name="air", ms=1000 * speaker_m / SPEED_OF_SOUND_M_S)
    into, back = Segment(name="input-buffer", ms=buffer_ms), Segment(name="output-buffer", ms=buffer_ms)
    if measured_ms is None:
        half, safety = converters_ms / 2, 1000 * safety_samples / sample_rate_hz
        way: tuple[Segment, ...] = (
            Segment(name="converter-in", ms=half),
            Segment(name="safety-in", ms=safety),
            into,
            plugins,
            back,
            Segment(name="safety-out", ms=safety),
            Segment(name="converter-out", ms=half),
            air,
        )
    else:
        rest = Segment(name="driver-and-converters", ms=max(measured_ms - 2 * buffer_ms, 0.0))
        way = (into, plugins, back, rest, air)
    return tuple(one for one in way if one.ms > 0)


def buffer_of_ms(samples: int, sample_rate_hz: float) -> float:
    """Return how long one buffer lasts.

    >>> round(buffer_of_ms(128, 48000), 2)
    2.67
    """
    require_positive("sample_rate_hz", sample_rate_hz)
    return 1000 * samples / sample_rate_hz


def total_ms(way: tuple[Segment, ...]) -> float:
    return sum(one.ms for one in way)


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
