"""The buffer a song is recorded with and all that follows from it: planned from what is known, or set by hand."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Final

from pneumen.core.delay.dropouts import LIKELY, UNKNOWN, Chance, Seen, chances, computer_named, smallest_safe
from pneumen.core.delay.journey import (
    CONVERTERS_MS,
    SAFETY_SAMPLES,
    Segment,
    buffer_of_ms,
    journey,
    total_ms,
)
from pneumen.core.delay.own_voice import verdict_of_delay
from pneumen.core.errors import UnknownName
from pneumen.core.verdict import Verdict, worst_of

BAND_MS: Final = 1.5
"""What drivers add or save beside all that sheets tell (estimate)."""
MIXING_BUFFER: Final = 1024
"""While nothing is played, delay costs nothing (common practice, no source)."""
LOADS: Final = {"plain": 1.0, "tracks": 1.6, "models": 2.6}
"""How much is worked on while recording: one plain track, many tracks with effects, amplifier models (estimates)."""


GUESSED_LOST: Final = {LIKELY: Verdict.WATCH}
SEEN_LOST: Final = {LIKELY: Verdict.BAKED_IN, UNKNOWN: Verdict.WATCH}
"""How grave it is that a buffer may be lost: what was seen is baked into a take, a guess is a reason to look."""
SHEET_RATE_HZ: Final = 48_000


@dataclass(frozen=True, slots=True, kw_only=True)
class DeviceDelay:
    """What a device's sheet says of delay: its converters, its driver's offset, or round trips at 48 kHz by buffer."""

    converters_ms: float = CONVERTERS_MS
    safety_samples: int = SAFETY_SAMPLES
    measured_ms_by_buffer: tuple[tuple[int, float], ...] = ()

    def measured_ms(self, samples: int, sample_rate_hz: float) -> float | None:
        """Return the sheet's round trip at a buffer, carried over to another rate; None where it tells none."""
        told = dict(self.measured_ms_by_buffer).get(samples)
        if told is None:
            return None
        return told - 2 * buffer_of_ms(samples, SHEET_RATE_HZ) + 2 * buffer_of_ms(samples, sample_rate_hz)


@dataclass(frozen=True, slots=True, kw_only=True)
class DelayPlan:
    """A buffer, planned or set, the way through it, and what is to be expected at each size.

    measured_ms is the round trip of an uncompensated loop at this buffer, which takes the place of what was worked out.
    """

    buffer: int
    planned_buffer: int
    sample_rate_hz: int
    way: tuple[Segment, ...]
    chances: tuple[Chance, ...]
    measured_ms: float | None

    @property
    def round_trip_ms(self) -> float:
        return total_ms(self.way) if self.measured_ms is None else self.measured_ms

    @property
    def verdict(self) -> Verdict:
        """Judge hearing oneself through the computer."""
        return verdict_of_delay(self.round_trip_ms)

    @property
    def chance(self) -> Chance:
        """What is to be expected at the buffer itself."""
        return next(one for one in self.chances if one.buffer == self.buffer)

    def verdict_of(self, own: str) -> Verdict:
        """Judge the whole: what the buffer risks, and one's own sound as it is heard.

        Args:
            own: how one hears oneself: direct, computer, both, none.
        """
        risk = (SEEN_LOST if self.chance.seen else GUESSED_LOST).get(self.chance.word, Verdict.CLEAR)
        twice = worst_of([Verdict.WATCH, self.verdict])
        return worst_of([risk, {"computer": self.verdict, "both": twice}.get(own, Verdict.CLEAR)])

    def with_measured(self, measured_ms: float) -> "DelayPlan":
        """Return the plan with a round trip that was measured."""
        return replace(self, measured_ms=measured_ms)

    @property
    def mixing_buffer(self) -> int:
        return max(MIXING_BUFFER, self.planned_buffer)


def plan_delay(
    device: DeviceDelay,
    computer: str,
    sample_rate_hz: int,
    *,
    buffer: int | None = None,
    seen: Iterable[Seen] = (),
    load: str = "plain",
    plugin_samples: int = 0,
    speaker_m: float = 0.0,
) -> DelayPlan:
    """Return what a device and a computer make of a song's delay.

    Args:
        buffer: as it was set; None for the smallest that is not expected to lose anything.
        seen: what was seen of dropouts on the real computer.
        load: how much is worked on, one of LOADS.

    Raises:
        UnknownName, OutOfRange: naming what cannot be.
    """
    if load not in LOADS:
        raise UnknownName("load", load, tuple(LOADS))
    told = tuple(seen)
    found = chances(computer, sample_rate_hz, told, load=LOADS[load])
    planned = _planned(computer, found, told, load)
    samples = planned if buffer is None else buffer
    way = journey(  # refuses a buffer that cannot be
        samples,
        sample_rate_hz,
        converters_ms=device.converters_ms,
        safety_samples=device.safety_samples,
        plugin_samples=plugin_samples,
        speaker_m=speaker_m,
        measured_ms=device.measured_ms(samples, sample_rate_hz),
    )
    if samples not in {one.buffer for one in found}:
        found = tuple(
            sorted(
                (*found, *chances(computer, sample_rate_hz, told, buffers=(samples,), load=LOADS[load])),
                key=lambda one: one.buffer,
            )
        )
    return DelayPlan(
        buffer=samples,
        planned_buffer=planned,
        sample_rate_hz=sample_rate_hz,
        way=way,
        chances=found,
        measured_ms=None,
    )


def _planned(computer: str, found: tuple[Chance, ...], seen: tuple[Seen, ...], load: str) -> int:
    """Return the buffer to record with: the usual one, unless what was seen or is worked on says otherwise."""
    return smallest_safe(found) if seen or load != "plain" else computer_named(computer).usual
