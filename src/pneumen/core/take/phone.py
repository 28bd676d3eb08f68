"""Recordings as phones and browsers make them (M4A, 3GP, AMR, WebM), decoded by the codecs that PyAV carries."""

import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import IO, TYPE_CHECKING, Final

import numpy as np
import soundfile

from pneumen.core.errors import UnreadableFile

if TYPE_CHECKING:
    import av

MP4, ADTS, AMR, WEBM = "M4A", "AAC", "AMR", "WEBM"
DEMUXERS: Final = {MP4: "mov", ADTS: "aac", AMR: "amr", WEBM: "matroska"}
"""Which of FFmpeg's readers each kind is read with: a file does not choose its own."""
LOSSLESS_CODECS: Final = ("alac", "flac", "pcm_s16le", "pcm_s16be", "pcm_s24le")
LONGEST_S: Final = 6 * 3600.0
"""More than that is no take; a few bytes can claim any length."""
CONVERT_IT: Final = "let the phone record WAV, or convert it, for example with 'ffmpeg -i take.m4a take.wav'"


def container_of(head: bytes) -> str | None:
    """Return which of these kinds a file is, by its first bytes; None for any other."""
    if head[4:8] == b"ftyp":
        return MP4
    if head[:5] == b"#!AMR":
        return AMR
    if head[:4] == b"\x1a\x45\xdf\xa3":
        return WEBM
    return ADTS if len(head) > 1 and head[0] == 0xFF and head[1] & 0xF6 == 0xF0 else None


def is_lossy(encoding: str) -> bool:
    """Return whether a codec's name, as decoded() tells it, is of one that leaves something out."""
    return encoding.lower() not in LOSSLESS_CODECS


def decoded(path: Path, container: str) -> tuple[IO[bytes], str, bool]:
    """Decode a recording into a temporary WAV of floats, which is gone once it is closed.

    Returns:
        The open WAV, the name of the codec, and whether the recording ended before it was whole.

    Raises:
        UnreadableFile: where it holds no sound that can be decoded.
    """
    import av  # a large library: loaded only where such a file is met

    target = tempfile.TemporaryFile(prefix="pneumen-", suffix=".wav")  # noqa: SIM115 - it is handed out open
    try:
        codec, whole = _decode_into(target, path, container)
        target.seek(0)
        return target, codec.upper(), not whole
    except (av.FFmpegError, soundfile.LibsndfileError, ValueError) as error:
        target.close()
        raise UnreadableFile(f"this {container} file cannot be decoded", CONVERT_IT) from error
    except BaseException:
        target.close()
        raise


def _decode_into(target: IO[bytes], path: Path, container: str) -> tuple[str, bool]:
    import av

    with path.open("rb") as file, av.open(file, mode="r", format=DEMUXERS[container]) as source:
        if not source.streams.audio:
            raise UnreadableFile(f"this {container} file holds no sound", CONVERT_IT)
        stream = source.streams.audio[0]
        rate_hz, channels = stream.rate, stream.channels
        most = LONGEST_S * rate_hz
        with soundfile.SoundFile(target, "w", rate_hz, channels, "FLOAT", format="RF64") as written:
            frames, whole = 0, True
            pieces = _pieces(source, stream, channels)
            while True:
                try:
                    piece = next(pieces, None)
                except av.FFmpegError:  # a damaged file is heard as far as it goes
                    whole = False
                    break
                if piece is None:
                    break
                frames += len(piece)
                if frames > most:
                    raise UnreadableFile(f"the file is longer than {LONGEST_S / 3600:.0f} hours", "cut it to the take")
                written.write(piece)
            if not frames:
                raise UnreadableFile(f"this {container} file holds no sound", CONVERT_IT)
        return stream.codec_context.name, whole


def _pieces(source: "av.container.InputContainer", stream: "av.AudioStream", channels: int) -> Iterator[np.ndarray]:
    """Yield the samples as floats, shape (frames, channels)."""
    import av

    layout = stream.layout.name
    resampler = av.AudioResampler(format="flt", layout=layout, rate=stream.rate)
    for frame in source.decode(stream):
        for ready in resampler.resample(frame):
            yield ready.to_ndarray().reshape(-1, channels)
    for ready in resampler.resample(None):
        yield ready.to_ndarray().reshape(-1, channels)
