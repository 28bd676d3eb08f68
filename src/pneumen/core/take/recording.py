"""Opening a recorded file: what it says of itself, whether it is whole, and its samples in blocks."""

import os
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from types import TracebackType
from typing import IO, BinaryIO, Final, Self

import numpy as np
import soundfile

from pneumen.core.errors import UnreadableFile
from pneumen.core.take.phone import container_of, decoded, is_lossy
from pneumen.core.take.riff import BIG, LITTLE, chunks_of
from pneumen.core.take.unclosed import unclosed_wav
from pneumen.core.take.wave24 import Wave24

MOST_CHANNELS: Final = 8
MOST_SAMPLES: Final = 14_400_000
"""So many of one channel are looked at as a whole: five minutes at 48 kHz, 115 MB."""
LARGEST_SAMPLE: Final = 1e6
"""A file in floats may pass full scale, but not by 120 dB: that is no sound any more."""
RATES_HZ: Final = (8_000, 192_000)
STREAM_PIECE_FRAMES: Final = 4096
LOSSY_CONTAINERS: Final = ("MP3", "OGG")
PLAIN_CONTAINERS: Final = ("WAV", "RF64", "AIFF")
SAVE_AS: Final = "save it as WAV, AIFF or FLAC"
CODE_STEPS: Final = {
    "PCM_U8": 2**-7,
    "PCM_S8": 2**-7,
    "PCM_16": 2**-15,
    "PCM_24": 2**-23,
    "ULAW": 2**-6,  # the companding laws and ADPCM take large steps where it is loud
    "ALAW": 2**-6,
    "IMA_ADPCM": 2**-9,
    "MS_ADPCM": 2**-9,
}
SIXTEEN_BITS: Final = 2**-15
LOOKED_AT: Final = 1000
"""So many samples of a block tell whether all its values are of 16 bits."""
CONTAINERS: Final = {
    "WAV": "WAV",
    "WAVEX": "WAV",
    "RF64": "RF64",
    "AIFF": "AIFF",
    "FLAC": "FLAC",
    "OGG": "OGG",
    "MP3": "MP3",
    "MPEG": "MP3",
}


@dataclass(slots=True)
class Recording:
    """An open file. truncated turns true as soon as less is found than the header promised."""

    name: str
    container: str
    encoding: str
    sample_rate_hz: int
    channels: int
    frames: int
    truncated: bool
    _file: soundfile.SoundFile
    _temporary: IO[bytes] | None = None
    _wave: Wave24 | None = None
    """The same sound read faster, where it is of 24 bits."""

    def __enter__(self) -> Self:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self._file.close()
        if self._wave is not None:
            self._wave.close()
        if self._temporary is not None:
            self._temporary.close()

    @property
    def is_lossy(self) -> bool:
        """Whether its very container or codec leaves something out."""
        phone = self._temporary is not None and is_lossy(self.encoding)
        return phone or self.container in LOSSY_CONTAINERS

    @property
    def least_step(self) -> float:
        """The step between neighbouring sample values (full scale is 1)."""
        return CODE_STEPS.get(self.encoding, 2**-24)

    def blocks(self, edges: Iterator[int]) -> Iterator[np.ndarray]:
        """Yield float64 arrays (channels, samples) between consecutive edges, as far as the file goes; once only.

        Raises:
            UnreadableFile: where a sample is not a number.
        """
        position = 0
        for edge in edges:
            block = self._read(edge - position)
            if block.shape[1]:
                # NaN and infinity too; whole numbers hold neither.
                if self.encoding not in CODE_STEPS and not max(block.max(), -block.min()) <= LARGEST_SAMPLE:
                    self._refuse_unsound(block, position)
                yield block
            position += block.shape[1]
            if position < edge:
                break
        if position < self.frames:
            self.truncated = True
        self.frames = position

    def stretch(self, start: int, stop: int, channel: int) -> np.ndarray:
        """Return one channel's samples from start to stop, for a second look; none where a damaged file forbids it."""
        return np.asarray(self.stretches(start, stop)[channel])

    def stretches(self, start: int, stop: int) -> np.ndarray:
        """Return the same of all channels, shape (channels, samples)."""
        try:
            self._seek(start)
        except soundfile.LibsndfileError:
            return np.empty((self.channels, 0))
        return self._read(stop - start)

    def loudest_channel(self, longest_s: float) -> np.ndarray:
        """Return the channel with the most energy, its mean taken out, as far as a length goes; once only.

        The file is gone through twice, block by block, so that only what is returned lies in memory.

        Raises:
            UnreadableFile: where a sample is not a number, or where that would be too much to look at as a whole.
        """
        most = min(self.frames, round(longest_s * self.sample_rate_hz))
        if most > MOST_SAMPLES:
            minutes = most / self.sample_rate_hz / 60
            told = f"{minutes:.0f} minutes at {self.sample_rate_hz / 1000:g} kHz are too much to look at as a whole"
            raise UnreadableFile(told, "cut the recording to what matters, or export it at 48 kHz")
        total, squares, frames = np.zeros(self.channels), np.zeros(self.channels), 0
        for block in self.blocks(iter(_edges(most))):
            total, squares = total + block.sum(axis=1), squares + np.square(block).sum(axis=1)
            frames += block.shape[1]
        mean = total / max(frames, 1)
        loudest = int((squares - frames * mean**2).argmax())
        found, position = np.empty(frames), 0
        self._seek(0)
        for edge in _edges(frames):
            piece = self._read(edge - position)[loudest]
            found[position : position + len(piece)] = piece
            position += len(piece)
        return found[:position] - mean[loudest]

    def _seek(self, frame: int) -> None:
        (self._file if self._wave is None else self._wave).seek(frame)

    def _read(self, frames: int) -> np.ndarray:
        """Read on, as far as it goes. Streams are read in small pieces: of a broken piece nothing comes back."""
        if self._wave is not None:
            return self._wave.read(frames)
        pieces = [np.empty((0, self.channels))]
        most = frames if self.container in PLAIN_CONTAINERS else STREAM_PIECE_FRAMES
        try:
            while frames > 0 and (piece := self._file.read(min(frames, most), dtype="float64", always_2d=True)).size:
                pieces.append(piece)
                frames -= len(piece)
        except soundfile.LibsndfileError:
            self.truncated = True
        return np.ascontiguousarray(np.concatenate(pieces).T if len(pieces) != 2 else pieces[1].T)

    def _refuse_unsound(self, block: np.ndarray, position: int) -> None:
        bad = np.flatnonzero(~(np.abs(block) <= LARGEST_SAMPLE).all(axis=0))  # NaN and infinity too
        if bad.size:
            at_s = (position + bad[0]) / self.sample_rate_hz
            numbers = np.isfinite(block[:, bad[0]]).all()
            told = f"lies over {LARGEST_SAMPLE:g} times full scale" if numbers else "is not a number"
            raise UnreadableFile(f"the sample at {at_s:.3f} s {told}", "export the file anew")


def code_step(block: np.ndarray, least_step: float) -> float:
    """Return the step between the values some samples take: that of 16 bits where 24 hold no more than those.

    Args:
        block: shape (channels, samples), full scale 1.
        least_step: what the file's encoding could tell apart.
    """
    codes = block[:, :: max(1, block.shape[1] // LOOKED_AT)] / SIXTEEN_BITS
    return max(least_step, SIXTEEN_BITS) if np.array_equal(codes, np.round(codes)) else least_step


def _edges(frames: int) -> list[int]:
    return [*range(STREAM_PIECE_FRAMES, frames, STREAM_PIECE_FRAMES), frames] if frames else []


def open_recording(path: Path | str) -> Recording:
    """Open a recording and check that it can be measured.

    Raises:
        UnreadableFile: saying what is wrong and what would be right.
    """
    path = Path(path)
    try:
        size = path.stat().st_size
        with path.open("rb") as file:
            head = file.read(16)
            cut_short = _is_cut_short(file, head, size)
    except OSError as error:
        reason = error.strerror or "cannot be read"
        raise UnreadableFile(reason[:1].lower() + reason[1:], "give the path of a recorded file") from None
    if not size:
        raise UnreadableFile("the file is empty", "record or export it anew")
    container = container_of(head)
    if container is not None:
        wav, codec, cut_short = decoded(path, container)
        recording = _opened(path, soundfile.SoundFile(wav), container, codec, truncated=cut_short)
        recording._temporary = wav
        return recording
    unclosed = unclosed_wav(path, size)
    try:
        file = soundfile.SoundFile(unclosed or os.fspath(path))
    except (soundfile.LibsndfileError, TypeError, ValueError):
        raise _not_a_recording(head) from None
    recording = _opened(path, file, "", file.subtype, truncated=cut_short or unclosed is not None)
    if recording.encoding == "PCM_24" and recording.container == "WAV" and unclosed is None:
        recording._wave = Wave24.of(path, file.frames, file.channels)
    return recording


def _opened(path: Path, file: soundfile.SoundFile, container: str, encoding: str, *, truncated: bool) -> Recording:
    """Return an open file once it was checked; container is empty where libsndfile tells it."""
    try:
        _check(file)
    except UnreadableFile:
        file.close()
        raise
    return Recording(
        name=path.name,
        container=container or CONTAINERS[file.format],
        encoding=encoding,
        sample_rate_hz=file.samplerate,
        channels=file.channels,
        frames=file.frames,
        truncated=truncated,
        _file=file,
    )


def _check(file: soundfile.SoundFile) -> None:
    if file.format not in CONTAINERS:
        raise UnreadableFile(f"{file.format} files are not read", SAVE_AS)
    if not 1 <= file.channels <= MOST_CHANNELS:
        raise UnreadableFile(
            f"the file has {file.channels} channels", f"export the part alone, with 1 to {MOST_CHANNELS} channels"
        )
    if not RATES_HZ[0] <= file.samplerate <= RATES_HZ[1]:
        raise UnreadableFile(
            f"the sample rate is {file.samplerate} Hz", f"use one between {RATES_HZ[0]} and {RATES_HZ[1]} Hz"
        )
    if not file.frames:
        raise UnreadableFile("the file holds no samples", "record or export it anew")


def _not_a_recording(head: bytes) -> UnreadableFile:
    if head[:4] in (b"RIFF", b"RF64", b"FORM", b"fLaC", b"OggS"):
        return UnreadableFile("the file's header is damaged", "export it anew")
    return UnreadableFile("this is not a recording in a format that is read", SAVE_AS)


def _is_cut_short(file: BinaryIO, head: bytes, size: int) -> bool:
    """Tell whether the file ends before its own header says; false where the format does not tell."""
    if head[:4] in (b"RIFF", b"RF64") and head[8:12] == b"WAVE":
        return _chunk_overruns(file, size, b"data", LITTLE)
    if head[:4] == b"FORM" and head[8:11] == b"AIF":
        return _chunk_overruns(file, size, b"SSND", BIG)
    if head[:4] == b"OggS":
        return not _ogg_is_closed(file, size)
    return False


def _chunk_overruns(file: BinaryIO, size: int, name: bytes, order: str) -> bool:
    found = next((chunk for chunk in chunks_of(file, order) if chunk.name == name), None)
    # Recorders that stream write 0 or all ones until they close the file: nothing was promised.
    return found is not None and found.length not in (0, 0xFFFFFFFF) and found.start + found.length > size


def _ogg_is_closed(file: BinaryIO, size: int) -> bool:
    file.seek(max(0, size - 65_536))
    tail = file.read()
    last = tail.rfind(b"OggS")
    return last < 0 or last + 5 >= len(tail) or bool(tail[last + 5] & 4)
