"""How something stands, and which of several verdicts is the gravest."""

from collections.abc import Iterable
from enum import StrEnum


class Verdict(StrEnum):
    """From not judged yet to a danger, in the order of their gravity."""

    OPEN = "open"
    """Not judged yet."""
    CLEAR = "clear"
    WATCH = "watch"
    """It can be heard, or soon will be."""
    MENDABLE = "mendable"
    """A fault that can be mended afterwards."""
    BAKED_IN = "baked-in"
    """A fault nothing mends once it is recorded."""
    STOP = "stop"
    """It may destroy something."""

    @property
    def gravity(self) -> int:
        return list(Verdict).index(self)


def worst_of(verdicts: Iterable[Verdict]) -> Verdict:
    """Return the gravest of some verdicts; clear where there is none.

    >>> worst_of([Verdict.WATCH, Verdict.CLEAR]).value
    'watch'
    """
    return max(verdicts, key=lambda one: one.gravity, default=Verdict.CLEAR)
