"""How often a buffer is lost: simulated computers as a guess, and what was seen on the real one.

A buffer of N samples is lost where working on it takes longer than it lasts. Working takes a fixed overhead, a share of
the buffer's own length, and a jitter with a long tail (Lomax: P(J > x) = (1 + x/scale)^-shape), so that the chance is a
closed form. All figures of the computers are estimates: they stand for a guess, and what was seen counts more.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from pneumen.core.delay.journey import buffer_of_ms
from pneumen.core.errors import UnknownName, require_within

BUFFERS: Final = (32, 64, 128, 256, 512, 1024, 2048)
SHAPE: Final = 5.0
UNLIKELY_A_MINUTE: Final = 0.05
LIKELY_A_MINUTE: Final = 0.3
"""Less than one in twenty minutes is not met in a take; from three in ten minutes on it is (common practice)."""
RULE_OF_THREE: Final = 3.0
"""Nothing lost in T minutes: at most 3/T a minute at 95 % (Hanley and Lippman-Hand, JAMA 249, 1983; from memory)."""
LIKELY, UNLIKELY, UNKNOWN = "likely", "unlikely", "unknown"


@dataclass(frozen=True, slots=True, kw_only=True)
class Computer:
    """A kind of computer: its overhead, the share of a buffer one track takes, and its jitter's scale.

    usual is the buffer it starts with (common practice, no source).
    """

    label: str
    usual: int
    overhead_ms: float
    share: float
    scale_ms: float

    def lost_share(self, buffer_ms: float, *, load: float = 1.0) -> float:
        """Return the share of buffers that are lost.

        Args:
            load: how much more than one plain track is worked on.
        """
        spare_ms = buffer_ms * (1 - min(self.share * load, 1.0)) - self.overhead_ms
        return 1.0 if spare_ms <= 0 else (1 + spare_ms / self.scale_ms) ** -SHAPE


COMPUTERS: Final[Mapping[str, Computer]] = {
    "old-laptop": Computer(label="An old or slow laptop", usual=512, overhead_ms=1.2, share=0.35, scale_ms=0.4),
    "laptop": Computer(label="A laptop of the last few years", usual=256, overhead_ms=0.5, share=0.2, scale_ms=0.25),
    "desktop": Computer(label="A desktop computer", usual=128, overhead_ms=0.25, share=0.12, scale_ms=0.14),
}


def computer_named(name: str) -> Computer:
    """Return a kind of computer.

    Raises:
        UnknownName: naming those there are.
    """
    if name not in COMPUTERS:
        raise UnknownName("computer", name, tuple(COMPUTERS))
    return COMPUTERS[name]


def dropouts_per_minute(computer: str, samples: int, sample_rate_hz: float, *, load: float = 1.0) -> float:
    """Return how many buffers a simulated computer loses in a minute, on the mean.

    >>> round(dropouts_per_minute("laptop", 128, 48000), 1)
    0.9
    """
    buffer_ms = buffer_of_ms(samples, sample_rate_hz)
    return 60_000 / buffer_ms * computer_named(computer).lost_share(buffer_ms, load=load)


@dataclass(frozen=True, slots=True, kw_only=True)
class Seen:
    """What was seen at a buffer: it crackled, or it held for some minutes."""

    buffer: int
    crackled: bool
    minutes: float = 0.0

    def __post_init__(self) -> None:
        require_within("buffer", self.buffer, 1, 65_536)
        require_within("minutes", self.minutes, 0, 10_000)


@dataclass(frozen=True, slots=True, kw_only=True)
class Chance:
    """What is to be expected at a buffer: likely, unlikely or unknown; at most so many a minute, where that is known.

    seen tells whether it rests on what was seen, and not on a simulated computer.
    """

    buffer: int
    word: str
    most_a_minute: float | None
    seen: bool


def chances(
    computer: str,
    sample_rate_hz: float,
    seen: Iterable[Seen] = (),
    *,
    buffers: Sequence[int] = BUFFERS,
    load: float = 1.0,
) -> tuple[Chance, ...]:
    """Return what is to be expected at each buffer. What held holds for all larger ones, what crackled for all smaller.

    Where both are said of one buffer it is not the buffer alone, and nothing is known.
    """
    told = tuple(seen)
    return tuple(_chance(computer, sample_rate_hz, told, buffer, load) for buffer in buffers)


def _chance(computer: str, sample_rate_hz: float, seen: Sequence[Seen], buffer: int, load: float) -> Chance:
    crackled = any(one.crackled and one.buffer >= buffer for one in seen)
    held_min = max((one.minutes for one in seen if not one.crackled and one.buffer <= buffer), default=0.0)
    most = RULE_OF_THREE / held_min if held_min > 0 else None
    if crackled and held_min > 0:
        return Chance(buffer=buffer, word=UNKNOWN, most_a_minute=None, seen=True)
    if crackled:
        return Chance(buffer=buffer, word=LIKELY, most_a_minute=None, seen=True)
    if most is not None:
        return Chance(
            buffer=buffer, word=UNLIKELY if most <= LIKELY_A_MINUTE else UNKNOWN, most_a_minute=most, seen=True
        )
    guess = dropouts_per_minute(computer, buffer, sample_rate_hz, load=load)
    word = UNLIKELY if guess <= UNLIKELY_A_MINUTE else LIKELY if guess > LIKELY_A_MINUTE else UNKNOWN
    return Chance(buffer=buffer, word=word, most_a_minute=None, seen=False)


def smallest_safe(found: Sequence[Chance]) -> int:
    """Return the smallest buffer that is not expected to lose anything; the largest where none is that safe."""
    safe = [one.buffer for one in found if one.word == UNLIKELY]
    return min(safe) if safe else max(one.buffer for one in found)
