"""Who listens now: each open input with what it has heard, kept in this process; a take's samples go to a file."""

import re
import secrets
import threading
import time
from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Final

import numpy as np
import soundfile
from django.conf import settings

from pneumen.core.errors import Contradiction, OutOfRange
from pneumen.core.live import (
    ENDED,
    RECORDING,
    Guide,
    Heard,
    Origin,
    Stream,
    arrived,
    heard,
    heard_on,
    piece_of,
    pieces_in,
)
from pneumen.wording.language import _

TAKE, LINE, MINUTE = "take", "line", "minute"
PURPOSES: Final = (TAKE, LINE, MINUTE)
"""What is recorded: a take of the part, the line that checks the input, or the one-minute check."""
MOST_OPEN: Final = 8
GONE_AFTER_S: Final = 20.0
"""An input that has sent nothing for so long is gone: its page was closed, or its computer sleeps."""
LONGEST_S: Final = 3600.0
SAMPLE_BYTES: Final = 4
BLOCK_FRAMES: Final = 1 << 18
NAMED: Final = re.compile(r"live-(\d{1,18})-(\d{4,6})-(\d{1,2})-[0-9a-f]{32}\.f32")


@dataclass(slots=True, kw_only=True)
class Listening:
    """One open input: whose, for which part, how it comes in, and what was heard of it."""

    key: str = field(default_factory=lambda: secrets.token_hex(16))
    take_key: str = field(default_factory=lambda: secrets.token_hex(16))
    owner_id: int
    part_id: int
    origin: Origin
    heard: Heard
    stream: Stream
    school: str
    set_by: str
    planned_dbfs: float
    purpose: str = TAKE
    answer: str = ""
    guide: Guide | None = None
    check_id: int | None = None
    takes: list[int] = field(default_factory=list)
    touched: float = 0.0
    lost_before: int = 0
    guard: threading.Lock = field(default_factory=threading.Lock)

    @property
    def kept_channels(self) -> int:
        return 1 if self.origin.channel else self.origin.channels

    @property
    def path(self) -> Path:
        """Where a take's samples lie while it is recorded; the name tells what is needed to read them."""
        rate_hz = self.origin.sample_rate_hz
        return Path(settings.LIVE) / f"live-{self.part_id}-{rate_hz}-{self.kept_channels}-{self.take_key}.f32"

    def next_take(self) -> None:
        """Give the next take a file of its own."""
        self.take_key = secrets.token_hex(16)

    def take_in(self, first: int, body: bytes) -> None:
        """Hear a block of 32-bit floats, its channels interleaved.

        Raises:
            Contradiction: for bytes that are no such block.
            OSError: where the disk has no room; what was kept before stays.
        """
        samples = _samples_in(body, self.origin.channels)
        self.stream = arrived(self.stream, first, len(samples))
        if self.origin.channel:
            samples = samples[:, self.origin.channel - 1 : self.origin.channel]
        state, kept = heard(self.heard, samples)
        if kept:
            if not self.heard.kept_frames:
                self.lost_before = self.stream.lost
            with self.path.open("ab") as file:
                file.write(np.concatenate(kept).astype("<f4").tobytes())
        if state.kept_s > LONGEST_S:
            state = replace(state, phase=ENDED)
        if self.guide is not None and state.phase == RECORDING:
            for piece in pieces_in(samples, self.origin.sample_rate_hz):
                self.guide = heard_on(self.guide, piece_of(piece, self.origin.sample_rate_hz))
            if self.guide.step is None:
                state = replace(state, phase=ENDED)
        self.heard = state

    def origin_of_take(self, ended_by: str) -> Origin:
        """Return how the take that has just ended came in."""
        lost = self.stream.lost - self.lost_before
        return replace(self.origin, lost=lost, over=self.heard.over, ended_by=ended_by)


class Desk:
    """All open inputs of this process, by their keys."""

    def __init__(self) -> None:
        self._open: dict[str, Listening] = {}
        self._guard = threading.Lock()

    def put(self, one: Listening) -> None:
        """Keep an input open under its key.

        Raises:
            Contradiction: where too many are open.
        """
        one.touched = time.monotonic()
        with self._guard:
            if len(self._open) >= MOST_OPEN:
                raise Contradiction(
                    "listening",
                    _("on {most_open} pages is the most at once: close some of them").format(most_open=MOST_OPEN),
                )
            self._open[one.key] = one

    def get(self, key: str, *, owner_id: int, part_id: int) -> Listening | None:
        """Return an open input of a person's part; None where it is not there (any more)."""
        one = self._open.get(key)
        if one is None or (one.owner_id, one.part_id) != (owner_id, part_id):
            return None
        one.touched = time.monotonic()
        return one

    def close(self, key: str) -> None:
        with self._guard:
            self._open.pop(key, None)

    def gone(self) -> list[Listening]:
        """Return the inputs that have fallen silent, and close them."""
        now = time.monotonic()
        with self._guard:
            found = [one for one in self._open.values() if now - one.touched > GONE_AFTER_S]
            for one in found:
                self._open.pop(one.key)
        return found

    def names(self) -> set[str]:
        """Return the files of the takes that are being recorded."""
        return {one.path.name for one in list(self._open.values())}


DESK: Final = Desk()


def left_over() -> Iterator[tuple[int, int, int, Path]]:
    """Yield takes nobody is recording any more: part, rate, channels and file."""
    for path in sorted(Path(settings.LIVE).glob("live-*.f32")):
        if (named := NAMED.fullmatch(path.name)) and path.name not in DESK.names():
            part_id, rate_hz, channels = (int(one) for one in named.groups())
            yield part_id, rate_hz, channels, path


def write_wav(path: Path, sample_rate_hz: int, channels: int, target: Path) -> None:
    """Write a take's samples as a 24-bit WAV file; what lies over full scale clips, as it would in any file."""
    frame = SAMPLE_BYTES * channels
    with (
        path.open("rb") as file,
        soundfile.SoundFile(target, "w", sample_rate_hz, channels, "PCM_24", format="WAV") as wav,
    ):
        while block := file.read(BLOCK_FRAMES * frame):
            samples = np.frombuffer(block[: len(block) // frame * frame], dtype="<f4").reshape(-1, channels)
            wav.write(np.clip(samples, -1.0, 1.0))


def first_channel_of(path: Path, channels: int) -> np.ndarray:
    """Return the first channel of what was recorded."""
    return np.fromfile(path, dtype="<f4").reshape(-1, channels)[:, 0].astype(float)


def _samples_in(body: bytes, channels: int) -> np.ndarray:
    frame = SAMPLE_BYTES * channels
    if not body or len(body) % frame:
        raise Contradiction("sound", _("must be whole frames of {channels} 32-bit floats").format(channels=channels))
    samples = np.frombuffer(body, dtype="<f4").reshape(-1, channels)
    if not np.isfinite(samples).all():
        raise OutOfRange("sound", float("nan"), _("finite numbers"))
    return samples
