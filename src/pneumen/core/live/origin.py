"""How a recording came in: through which device and channel, at which rate, and what the browser did to it."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from statistics import median
from typing import Any, Final

from pneumen.core.errors import require_within

PROCESSING: Final = ("echoCancellation", "noiseSuppression", "autoGainControl", "voiceIsolation")
"""What browsers can do to a microphone's sound, as Media Capture and Streams (W3C) names it: each alters levels."""
LATE_S: Final = 0.004
"""Blocks of a hundredth of a second are lost whole; a clock that stamps them drifts by less."""
SETTLED: Final = 5
"""The middle one of so many blocks tells whether what comes is late for good."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Origin:
    """How a take was captured.

    channel is the one that was kept, from 1 on; 0 where all were. processing is what stayed on although it was
    asked off, hidden what a check of the input found although it was not said. lost are samples that never came,
    over are those that touched full scale; ended_by tells what ended the take.
    """

    device: str
    channel: int
    channels: int
    sample_rate_hz: int
    processing: tuple[str, ...] = ()
    hidden: tuple[str, ...] = ()
    lost: int = 0
    over: int = 0
    ended_by: str = ""

    def __post_init__(self) -> None:
        require_within("channels", self.channels, 1, 64)
        require_within("channel", self.channel, 0, self.channels)
        require_within("sample_rate_hz", self.sample_rate_hz, 8_000, 768_000)

    @property
    def alters_levels(self) -> bool:
        """Whether its levels are not those at the input."""
        return bool(self.processing or self.hidden)


def processed_by(settings: Mapping[str, Any]) -> tuple[str, ...]:
    """Return what a browser says it still does to the sound."""
    return tuple(name for name in PROCESSING if settings.get(name) not in (None, False, "none"))


@dataclass(frozen=True, slots=True, kw_only=True)
class Stream:
    """How far a stream of samples has come: received in all, lost on the way.

    counted tells that blocks say by a count of samples where they begin; else by a clock, which is late by itself now
    and then. offsets are how far each of the last blocks began after what was received.
    """

    sample_rate_hz: int
    counted: bool
    received: int = 0
    lost: int = 0
    offsets: tuple[int, ...] = ()


def arrived(stream: Stream, first: int, frames: int) -> Stream:
    """Return the stream once a block has come that begins at a sample of the source's own count or clock.

    What is lost shifts all that follows; a clock that is late by itself comes back.
    """
    offset = first - stream.received - stream.lost
    received = stream.received + frames
    if stream.counted:
        missing = max(offset - stream.offsets[-1], 0) if stream.offsets else 0
        return replace(stream, received=received, lost=stream.lost + missing, offsets=(offset - missing,))
    offsets = (*stream.offsets[-2 * SETTLED + 1 :], offset)
    shift = median(offsets[SETTLED:]) - median(offsets[:SETTLED]) if len(offsets) == 2 * SETTLED else 0
    if shift > LATE_S * stream.sample_rate_hz:
        after = tuple(one - round(shift) for one in offsets[SETTLED:])
        return replace(stream, received=received, lost=stream.lost + round(shift), offsets=after)
    return replace(stream, received=received, offsets=offsets)
