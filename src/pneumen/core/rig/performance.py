"""What a performer plays, in the parts that reach a microphone differently."""

from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Performance:
    """A performance as a waveform of no particular level, in its parts: what is sung or played, the S, and the air of
    the Ps, which is wind and no sound. Each of shape (samples,)."""

    tone: np.ndarray
    hiss: np.ndarray
    puffs: np.ndarray

    @property
    def voice(self) -> np.ndarray:
        """All that is sound."""
        return self.tone + self.hiss

    @property
    def whole(self) -> np.ndarray:
        return self.voice + self.puffs

    def __add__(self, other: "Performance") -> "Performance":
        return Performance(tone=self.tone + other.tone, hiss=self.hiss + other.hiss, puffs=self.puffs + other.puffs)

    def times(self, factor: float) -> "Performance":
        """Return the same, louder or softer."""
        return Performance(tone=factor * self.tone, hiss=factor * self.hiss, puffs=factor * self.puffs)
