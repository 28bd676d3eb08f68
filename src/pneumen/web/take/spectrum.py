"""A moment of a take over frequency: its spectrum as a curve, and how it changes over time as a picture of dots."""

import struct
import zlib
from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.errors import UnreadableFile, given
from pneumen.core.take import Spectrum, open_recording, spectrogram_of, spectrum_of
from pneumen.web.drawing import Axis, LogAxis, Paper, Tick, polyline, ticks_at
from pneumen.web.take.models import Take
from pneumen.wording.figures import clock, figure
from pneumen.wording.language import _

WIDE, NARROW = 766.0, 342.0
LEFT, TOP, BASE, HEIGHT = 44.0, 12.0, 168.0, 196.0
NARROW_BELOW: Final = 500
SHOWN_DB: Final = 90.0
FEW_HERTZ: Final[dict[float, str]] = {100: "100", 1000: "1 k", 10_000: "10 k"}
HERTZ: Final = {50.0: "50", 200: "200", 500: "500", 2000: "2 k", 5000: "5 k"} | FEW_HERTZ
COLUMNS: Final = 360
INK: Final = ((246, 244, 239), (23, 110, 105))
"""From the paper's colour, where nothing sounds, to teal."""


@dataclass(frozen=True, slots=True, kw_only=True)
class SpectrumPicture(Paper):
    """A spectrum drawn: level over frequency."""

    height: float
    left: float
    right: float
    base: float
    path: str
    hertz: tuple[Tick, ...]
    levels: tuple[Tick, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class SpectrumScreen:
    """A moment of a take: its spectrum on both papers, its lines in words."""

    told: str
    lines: str
    from_s: float
    to_s: float
    pictures: tuple[SpectrumPicture, ...]


def spectrum_screen(take: Take, span: tuple[float, float]) -> SpectrumScreen:
    """Return the spectrum of a stretch.

    Raises:
        UnreadableFile: where the recording does not give it.
    """
    samples, rate_hz = _stretch(take, span)
    found = spectrum_of(samples, rate_hz)
    return SpectrumScreen(
        told=_("{span} to {span_2}").format(span=clock(span[0], 1), span_2=clock(span[1], 1)),
        lines=", ".join(f"{figure(hertz, 1 if hertz < 1000 else 0)} Hz" for hertz in found.lines_hz),
        from_s=span[0],
        to_s=span[1],
        pictures=tuple(_drawn(found, width) for width in (WIDE, NARROW)),
    )


def _stretch(take: Take, span: tuple[float, float]) -> tuple[np.ndarray, int]:
    audio = given("audio", take.audio)
    with open_recording(audio.path) as recording:
        rate_hz = recording.sample_rate_hz
        channels = recording.stretches(round(span[0] * rate_hz), round(span[1] * rate_hz))
    if not channels.shape[1]:
        raise UnreadableFile(_("the recording does not hold this moment"), _("choose another, or look at its file"))
    return channels[int(np.square(channels).sum(axis=1).argmax())], rate_hz


def _drawn(found: Spectrum, width: float) -> SpectrumPicture:
    narrow, right = width < NARROW_BELOW, width - 10
    top_db = 10 * np.ceil(found.level_dbfs.max() / 10)
    hertz = LogAxis(low=20.0, high=20_000.0, start=LEFT, end=right)
    level = Axis(low=float(top_db) - SHOWN_DB, high=float(top_db), start=BASE, end=TOP)
    places = zip(found.frequency_hz.tolist(), found.level_dbfs.tolist(), strict=True)
    return SpectrumPicture(
        width=width,
        narrow=narrow,
        height=HEIGHT,
        left=LEFT,
        right=right,
        base=BASE,
        path=polyline((hertz.at(one), level.at(db)) for one, db in places),
        hertz=ticks_at(hertz, FEW_HERTZ if narrow else HERTZ),
        levels=tuple(Tick(at=level.at(one), label=figure(one)) for one in level.every(20)),
    )


def spectrogram_png(take: Take, span: tuple[float, float]) -> bytes:
    """Return a stretch as a picture: time from left to right, pitch upwards, an octave everywhere as high.

    Raises:
        UnreadableFile: where the recording does not give it.
    """
    samples, rate_hz = _stretch(take, span)
    _rest, levels = spectrogram_of(samples, rate_hz, COLUMNS)
    shade = np.clip((levels - levels.max() + SHOWN_DB) / SHOWN_DB, 0, 1)[::-1, :, None]
    paper, ink = (np.array(one, float) for one in INK)
    return _png(np.round(paper + (ink - paper) * shade).astype(np.uint8))


def _png(pixels: np.ndarray) -> bytes:
    """Write pixels of shape (rows, columns, 3) as a PNG (ISO/IEC 15948)."""
    rows, columns, _rest = pixels.shape
    header = struct.pack(">IIBBBBB", columns, rows, 8, 2, 0, 0, 0)
    lines = np.concatenate([np.zeros((rows, 1), np.uint8), pixels.reshape(rows, -1)], axis=1)
    chunks = ((b"IHDR", header), (b"IDAT", zlib.compress(lines.tobytes(), 6)), (b"IEND", b""))
    return b"\x89PNG\r\n\x1a\n" + b"".join(
        struct.pack(">I", len(data)) + name + data + struct.pack(">I", zlib.crc32(name + data)) for name, data in chunks
    )
