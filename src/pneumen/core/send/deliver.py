"""One file of a delivery: laid from the song's zero to its end, measured as it will arrive, and proven in place."""

import hashlib
import zlib
from contextlib import ExitStack
from dataclasses import dataclass
from pathlib import Path
from typing import Final

import numpy as np

from pneumen.core.levels import ratio_to_db
from pneumen.core.send.document import Also, Pack, SendFile
from pneumen.core.send.joined import JoinedTracks
from pneumen.core.take import (
    Finding,
    LaidTake,
    PcmFile,
    Recording,
    Survey,
    TruePeak,
    codes_of,
    lowering_for,
    open_recording,
    require_a_part,
    survey,
    useful_sides,
)
from pneumen.core.verdict import Verdict

BLOCK: Final = 65_536
SIXTEEN_BITS: Final = 2.0**-15
HASHED_AT_ONCE: Final = 1 << 20
DITHER_SEED: Final = 1
"""The same package twice has the same checksums."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Delivered:
    """One file as it arrives."""

    name: str
    file: str
    sha256: str
    duration_s: float
    sample_rate_hz: int
    bits: int
    channels: int
    sample_peak_dbfs: float | None
    true_peak_dbtp: float | None
    gain_db: float
    findings: tuple[Finding, ...]
    sounds: tuple[float, ...]
    """How high it peaks in each second, 0 to 1."""


def deliver(wanted: SendFile, pack: Pack, folder: Path, target: Path) -> Delivered:
    """Write one file of a delivery, and read it back.

    Args:
        folder: what the names of its sources are relative to.

    Raises:
        UnreadableFile: where the source cannot be delivered.
        OSError: where the target cannot be written.
    """
    with ExitStack() as opened:
        recording, found, laid = _laid(opened, wanted, wanted.channels, pack, folder / wanted.file)
        more = [_laid(opened, one, "auto", pack, folder / one.file) for one in wanted.also]
        whole = JoinedTracks([laid, *(one for _, _, one in more)], pack.rate_hz) if more else laid
        part = _Part(laid=whole, pack=pack, channels=_channels(wanted, whole))
        written = part.write(target, 1.0)
        gain = lowering_for(written.highest, written.lowest, pack.bits)
        if gain < 1:
            written = part.write(target, gain)
        part.prove(target, written)
        findings = [*_of_sound(found, wanted), *_of_place(recording, whole, pack, written, gain)]
        for _, other, _ in more:
            findings += [one for one in _of_sound(other, wanted) if one.kind in ("clipping", "lossy", "silent")]
    return Delivered(
        name=wanted.name,
        file=target.name,
        sha256=sha256_of(target),
        duration_s=pack.frames / pack.rate_hz,
        sample_rate_hz=pack.rate_hz,
        bits=pack.bits,
        channels=part.channels,
        sample_peak_dbfs=_in_dbfs(written.sample_peak),
        true_peak_dbtp=_in_dbfs(written.true_peak),
        gain_db=ratio_to_db(gain) if gain < 1 else 0.0,
        findings=tuple(findings),
        sounds=written.sounds,
    )


def _laid(
    opened: ExitStack, wanted: SendFile | Also, channels: str, pack: Pack, source: Path
) -> tuple[Recording, Survey, LaidTake]:
    """Open a source and lay it into the song, with the sides that are wanted of it."""
    recording = opened.enter_context(open_recording(source))
    require_a_part(recording)
    found = survey(recording)
    both = recording.channels == 2 and channels != "auto" and (channels == "stereo" or found.two_sided)
    sides = [0, 1] if both else useful_sides(found)
    drift_ppm = wanted.drift_ppm or 0.0
    laid = LaidTake(recording, rate_hz=pack.rate_hz, offset_s=wanted.offset_s, drift_ppm=drift_ppm, sides=sides)
    return recording, found, laid


def sha256_of(path: Path) -> str:
    """Return the checksum of a file."""
    digest = hashlib.sha256()
    with path.open("rb") as file:
        while piece := file.read(HASHED_AT_ONCE):
            digest.update(piece)
    return digest.hexdigest()


@dataclass(frozen=True, slots=True, kw_only=True)
class _Written:
    """What was written: the extremes before rounding, and the peaks of what stands in the file."""

    highest: float
    lowest: float
    sample_peak: float
    true_peak: float
    sounds: tuple[float, ...]
    check: int
    """Of all codes in their order."""


@dataclass(frozen=True, slots=True, kw_only=True)
class _Part:
    """A source as it is to be written."""

    laid: LaidTake | JoinedTracks
    pack: Pack
    channels: int

    def block(self, first: int, stop: int) -> np.ndarray:
        samples = self.laid.stretch(first, stop)
        if self.channels < len(samples):
            return np.asarray(samples.mean(axis=0, keepdims=True))
        return np.repeat(samples, self.channels, axis=0) if self.channels > len(samples) else samples

    def dithered(self, gain: float) -> bool:
        """Return whether bits are taken away: where more than 16 come in, or arise on the way."""
        finer = self.laid.least_step < SIXTEEN_BITS or self.laid.is_resampled or gain < 1
        return self.pack.bits == 16 and (finer or self.channels < self.laid.channels)

    def write(self, target: Path, gain: float) -> _Written:
        pack, bits = self.pack, self.pack.bits
        scale, rate_hz = 2.0 ** (1 - bits), pack.rate_hz
        noise = np.random.default_rng(DITHER_SEED) if self.dithered(gain) else None
        highest = lowest = peak = 0.0
        check = 0
        true_peaks, sounds = [TruePeak() for _ in range(self.channels)], np.zeros(-(-pack.frames // rate_hz))
        with PcmFile(target, sample_rate_hz=rate_hz, channels=self.channels, bits=bits, kind=pack.format) as file:
            for first in range(0, pack.frames, BLOCK):
                stop = min(first + BLOCK, pack.frames)
                sounding = first < self.laid.stop and stop > self.laid.first
                samples = self.block(first, stop) * gain if sounding else np.zeros((self.channels, stop - first))
                codes = codes_of(samples, bits, noise if sounding else None)
                if noise is not None and sounding:  # where the file holds nothing there is nothing to dither
                    codes[:, : max(0, self.laid.first - first)] = 0
                    codes[:, max(0, self.laid.stop - first) :] = 0
                file.write(codes)
                check = zlib.crc32(codes.T.tobytes(), check)
                if not sounding:
                    continue
                highest, lowest = max(highest, float(samples.max())), min(lowest, float(samples.min()))
                values = codes * scale
                for channel, true_peak in enumerate(true_peaks):
                    block_peak = float(np.abs(values[channel]).max())
                    true_peak(values[channel], block_peak)
                    peak = max(peak, block_peak)
                seconds = np.arange(first // rate_hz, (stop - 1) // rate_hz + 1)
                starts = np.maximum(seconds * rate_hz - first, 0)
                tops = np.maximum.reduceat(np.abs(values).max(axis=0), starts)
                sounds[seconds] = np.maximum(sounds[seconds], tops)
        return _Written(
            highest=highest / gain,
            lowest=lowest / gain,
            sample_peak=peak,
            true_peak=max(one.value for one in true_peaks),
            sounds=tuple(sounds.tolist()),
            check=check,
        )

    def prove(self, target: Path, written: _Written) -> None:
        """Read a file back: every sample must stand where it was laid.

        Raises:
            OSError: where it is not what was to be written.
        """
        pack, check = self.pack, 0
        with open_recording(target) as read:
            alike = (read.frames, read.sample_rate_hz, read.channels) == (pack.frames, pack.rate_hz, self.channels)
            for first in range(0, pack.frames if alike else 0, BLOCK):
                samples = read.stretches(first, min(first + BLOCK, pack.frames))
                check = zlib.crc32(codes_of(samples, pack.bits).T.tobytes(), check)
        if not alike or check != written.check:
            raise OSError(f"{target.name} does not read back as it was written")


def _channels(wanted: SendFile, laid: LaidTake | JoinedTracks) -> int:
    return {"auto": laid.channels, "mono": 1, "stereo": 2}[wanted.channels]


def _of_sound(found: Survey, wanted: SendFile) -> list[Finding]:
    """Return what is wrong with the sound of a source."""
    told = []
    clips = [one for one in found.findings if one.kind == "clipping"]
    if clips:
        told.append(_finding("clipping", clips[0].start_s, len(clips), "places", Verdict.BAKED_IN))
    told += [
        _finding("lossy", one.start_s, one.value, one.unit, one.verdict, one.cause)
        for one in found.findings
        if one.kind == "lossy"
    ]
    if found.silent:
        told.append(_finding("silent", 0.0, None, "dBFS", Verdict.BAKED_IN))
    elif found.say in ("dual-mono", "one-sided"):
        kept = wanted.channels == "stereo"
        verdict = Verdict.WATCH if kept else Verdict.CLEAR
        told.append(_finding(found.say, 0.0, 1, "channels", verdict, "kept" if kept else found.cause))
    elif found.two_sided and wanted.channels == "mono":
        told.append(_finding("mixed-to-mono", 0.0, 2, "channels", Verdict.WATCH))
    return told


def _of_place(
    recording: Recording, laid: LaidTake | JoinedTracks, pack: Pack, written: _Written, gain: float
) -> list[Finding]:
    """Return what happened to a source on its way into the delivery."""
    told, rate_hz = [], pack.rate_hz
    if gain < 1:
        told.append(_finding("over-full-scale", 0.0, -ratio_to_db(gain), "dB", Verdict.WATCH))
    if laid.first < 0:
        missing = min(-laid.first, laid.stop - laid.first) / rate_hz
        told.append(_finding("starts-before-zero", 0.0, missing, "s", Verdict.WATCH))
    if laid.stop > pack.frames:
        over = min(laid.stop - pack.frames, laid.stop - laid.first) / rate_hz
        told.append(_finding("runs-over", pack.frames / rate_hz, over, "s", Verdict.WATCH))
    elif laid.stop < pack.frames:
        short = (pack.frames - laid.stop) / rate_hz
        told.append(_finding("not-the-same-length", max(laid.stop, 0) / rate_hz, short, "s", Verdict.WATCH))
    if laid.is_resampled:
        drifts = laid.own_rate_hz == rate_hz
        value, unit = (laid.drift_ppm, "ppm") if drifts else (laid.own_rate_hz, "Hz")
        told.append(_finding("resampled", 0.0, value, unit, Verdict.CLEAR, "ppm" if drifts else ""))
    if pack.bits == 24 and recording.least_step >= SIXTEEN_BITS:
        told.append(_finding("depth-raised", 0.0, 16, "bit", Verdict.CLEAR))
    if not written.sample_peak and (laid.stop <= 0 or laid.first >= pack.frames):
        told.append(_finding("silent", 0.0, None, "dBFS", Verdict.BAKED_IN, "outside"))
    return told


def _finding(kind: str, at_s: float, value: float | None, unit: str, verdict: Verdict, cause: str = "") -> Finding:
    return Finding(kind=kind, start_s=at_s, end_s=at_s, value=value, unit=unit, verdict=verdict, cause=cause)


def _in_dbfs(value: float) -> float | None:
    return ratio_to_db(value) if value > 0 else None
