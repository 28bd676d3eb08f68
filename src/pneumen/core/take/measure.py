"""Measure a recorded file in blocks: levels, loudness, noise floor, clipping, and what to make of them."""

import math
from collections.abc import Callable
from contextlib import ExitStack
from typing import Final

import numpy as np

from pneumen.core.errors import UnreadableFile
from pneumen.core.take.activity import active_rms_of_frames
from pneumen.core.take.bleed import NO_BLEED
from pneumen.core.take.edges import FRAMES_PER_S, block_edges, each_frame, frame_starts
from pneumen.core.take.faults import Looked, bleed_findings, comb_findings, heard_faults, lossy_findings, sudden_faults
from pneumen.core.take.findings import (
    Finding,
    checks_of,
    clipping_findings,
    is_silent,
    likely_clipping,
    whole_file_findings,
)
from pneumen.core.take.floor import FloorMeter
from pneumen.core.take.frames import FrameMeter
from pneumen.core.take.loudness import integrated_loudness_lufs, k_weighting, loudest_3s_lufs, sum_channels
from pneumen.core.take.mains import looks_at
from pneumen.core.take.measurement import Format, Level, Measurement, Noise
from pneumen.core.take.noise_parts import NoiseMeter
from pneumen.core.take.outline import Outline
from pneumen.core.take.pair import Pair, pair_between
from pneumen.core.take.played import ANYTHING, Played
from pneumen.core.take.recording import Recording, code_step
from pneumen.core.take.second_look import SecondLook
from pneumen.core.take.sudden import LONG_S, Sudden, SuddenBeside, SuddenWatch
from pneumen.core.verdict import worst_of

MOST_TOUCHES: Final = 1000
"""So many samples at full scale are kept in mind; more say no more."""


def measure(
    recording: Recording,
    *,
    outline: Outline | None = None,
    progress: Callable[[float], None] | None = None,
    played: Played = ANYTHING,
    backing: Recording | None = None,
    again: Callable[[], Recording] | None = None,
) -> Measurement:
    """Measure a recording in one pass and a second look at its pauses.

    Memory grows only by about 4 kB for each second and channel of the file.

    Args:
        recording: an open recording of 1 to 8 channels.
        outline: where given, collects the first channel's outline for drawing.
        progress: called with the share done, 0 to 1.
        played: what is known of the source.
        backing: an open recording of what was heard while recording, to look for its leak.
        again: opens the same file anew; where given, a process beside this one looks for what is sudden in a long file.

    Returns:
        Measurement. Peaks and DC are the largest of any channel, loudness is the standard's sum, the rest is
        of the loudest channel. RMS figures leave the offset out.

    Raises:
        UnreadableFile: where there are no samples or one is not a number.

    Reference: ITU-R BS.1770-5 (loudness, true peak), EBU Tech 3341 (short-term), IEC 61672-1 (A-weighting).
    """
    tally, sudden = _Tally(recording), SuddenWatch(recording)
    with ExitStack() as ended:
        beside = None
        if again and recording.frames > LONG_S * recording.sample_rate_hz:
            beside = SuddenBeside(again)
            ended.callback(beside.end)
        for block in recording.blocks(block_edges(recording)):
            tally.take_in(block)
            if beside is None:
                sudden.take_in(block)
            if outline is not None:
                outline(block[0])
            if progress:
                progress(min(0.95, 0.95 * tally.samples / max(recording.frames, 1)))
        if not tally.samples:
            raise UnreadableFile("the file holds no samples", "record or export it anew")
        return tally.result(recording, (beside or sudden).found, played, backing)


class _Tally:
    """What adds up over the blocks of a file. Frames are 100 ms; arrays are (channels, frames)."""

    def __init__(self, recording: Recording) -> None:
        rate, channels = recording.sample_rate_hz, recording.channels
        self.rate_hz, self.channels, self.samples = rate, channels, 0
        self.peak = np.zeros(channels)
        self._product = 0.0
        self._weigh = [k_weighting(rate) for _ in range(channels)]
        self._frames = [FrameMeter(rate) for _ in range(channels)]
        self._sums: list[np.ndarray] = []
        self._squares: list[np.ndarray] = []
        self._weighted: list[np.ndarray] = []
        self._silent: list[np.ndarray] = []
        self._counts: list[np.ndarray] = []
        self._least_step = recording.least_step
        self._touched: list[list[int]] = [[] for _ in range(channels)]

    def take_in(self, block: np.ndarray) -> None:
        least_step = code_step(block, self._least_step)
        full_scale = 1.0 - 1.5 * least_step
        starts = frame_starts(self.samples, block.shape[1], self.rate_hz)
        low, high = each_frame(np.minimum, block, starts), each_frame(np.maximum, block, starts)
        sums = each_frame(np.add, block, starts)
        self._sums.append(sums)
        self._squares.append(each_frame(np.add, np.square(block), starts))
        weighted = np.array([weigh(samples) for weigh, samples in zip(self._weigh, block, strict=True)])
        self._weighted.append(each_frame(np.add, np.square(weighted), starts).astype(float))
        self._silent.append(low == high)
        self._counts.append(np.diff(np.append(starts, block.shape[1])))
        for channel, samples in enumerate(block):
            lowest, highest = float(low[channel].min()), float(high[channel].max())
            peak = max(-lowest, highest)
            self.peak[channel] = max(self.peak[channel], peak)
            touched = self._touched[channel]
            if full_scale <= peak <= 1.0 and len(touched) < MOST_TOUCHES:
                touched += (self.samples + np.flatnonzero(np.abs(samples) >= full_scale)).tolist()
            self._frames[channel](samples)
        if self.channels == 2:
            self._product += float(np.dot(block[0], block[1]))
        self.samples += block.shape[1]

    def result(
        self,
        recording: Recording,
        sudden: Callable[[], tuple[Sudden, ...]],
        played: Played,
        backing: Recording | None,
    ) -> Measurement:
        sums, squares = np.hstack(self._sums), np.hstack(self._squares)
        counts = np.concatenate(self._counts)
        mean = sums.sum(axis=1) / self.samples
        # Power of each frame about the file's own mean: a constant offset is no sound.
        power = np.maximum(squares - 2 * mean[:, None] * sums + np.square(mean)[:, None] * counts, 0)
        rms = np.sqrt(power.sum(axis=1) / self.samples)
        loudest = int(rms.argmax())
        whole = counts >= math.floor(self.rate_hz / FRAMES_PER_S)
        weighted = np.hstack(self._weighted)[:, whole] / counts[whole]
        # A last frame of a few samples says nothing of its level, unless there is no other.
        judged = whole if whole.any() else np.ones_like(whole)
        active_rms = active_rms_of_frames(power[loudest][judged], counts[judged])
        active_dbfs, sample_peak_dbfs = _in_dbfs(active_rms), _in_dbfs(self.peak.max())
        look = SecondLook(
            recording=recording,
            channel=loudest,
            power=(power[loudest] / counts)[whole],
            silent=np.hstack(self._silent)[loudest][whole],
        )
        noise = _noise(*look.floor(weighted[loudest]), active_dbfs)
        pair = self._pair(mean, rms, power / counts, active_rms)
        dc_offset = float(mean[np.abs(mean).argmax()])
        hum_hz = look.hum_hz(active_dbfs)
        silent = is_silent(sample_peak_dbfs)
        more = Looked(findings=(), not_told={}) if silent else self._more(look, played, backing, active_rms)
        found = sudden()  # last: it may still be on its way
        clipping = self._clipping(found, played)
        findings = clipping + whole_file_findings(
            duration_s=self.samples / self.rate_hz,
            sample_peak_dbfs=sample_peak_dbfs,
            clean_range_db=noise.clean_range_db,
            dc_offset=dc_offset,
            channels_say=pair.say if self.channels == 2 else "",
            clipped=bool(clipping),
            hum_hz=hum_hz,
            channels_cause=pair.cause,
        )
        findings += [*([] if silent else self._sudden(found, loudest, clipping)), *more.findings]
        checked, not_checked = checks_of(self._not_told(noise) | more.not_told, silent=silent)
        return Measurement(
            file=recording.name,
            format=self._format(recording),
            level=self._level(rms[loudest], active_rms, sum_channels(weighted), max(one.true_peak for one in found)),
            noise=noise,
            dc_offset=dc_offset,
            channels_say=pair.say if self.channels == 2 else "mono" if self.channels == 1 else "multi",
            findings=tuple(findings),
            verdict=worst_of(finding.verdict for finding in findings),
            checked=checked,
            not_checked=not_checked,
            backing_lag_s=more.backing_lag_s,
            backing_lag_band_ms=more.backing_lag_band_ms,
            drift_ppm=more.drift_ppm,
        )

    def _pair(self, mean: np.ndarray, rms: np.ndarray, power: np.ndarray, active_rms: float) -> Pair:
        """Return what two sides are to each other."""
        if self.channels != 2:
            return Pair()
        product = self._product / self.samples - float(mean[0] * mean[1])
        return pair_between(self.peak, rms, product, power, active_rms)

    def _format(self, recording: Recording) -> Format:
        return Format(
            container=recording.container,
            encoding=recording.encoding,
            sample_rate_hz=self.rate_hz,
            channels=self.channels,
            duration_s=self.samples / self.rate_hz,
            truncated=recording.truncated,
        )

    def _clipping(self, found: tuple[Sudden, ...], played: Played) -> list[Finding]:
        tops = sorted({top for channel in found for top in channel.tops})
        clipping = clipping_findings(tops, self.rate_hz, meant=played.driven)
        return clipping + likely_clipping(max(self._touched, key=len), self.rate_hz, found=bool(clipping))

    def _sudden(self, found: tuple[Sudden, ...], loudest: int, clipping: list[Finding]) -> list[Finding]:
        """Return the clicks of the loudest channel and the lost samples of any."""
        dropouts = sorted({lost for channel in found for lost in channel.dropouts})
        return sudden_faults(dropouts, found[loudest].clicks, clipping, self.rate_hz)

    def _not_told(self, noise: Noise) -> dict[str, str]:
        """Return what the file does not tell, with why."""
        not_told = {} if noise.floor_dbfs_a is not None else {"noise": "no-pause"}
        return not_told if looks_at(self.samples, self.rate_hz) else not_told | {"hum": "too-short"}

    def _more(self, look: SecondLook, played: Played, backing: Recording | None, active_rms: float) -> Looked:
        """Return the faults that need the shape of the loudest channel's sound."""
        duration_s = self.samples / self.rate_hz
        heard = heard_faults(self._frames[look.channel].frames(), played, duration_s)
        findings = list(heard.findings)
        if played.spoken:
            findings += comb_findings(look.comb(), duration_s)
        rides = any(finding.kind == "level-riding" for finding in findings)
        findings += lossy_findings(
            look.coding(), self.rate_hz, duration_s, in_lossy_file=look.recording.is_lossy, rides=rides
        )
        not_told, bleed = dict(heard.not_told), NO_BLEED
        if backing is None:
            not_told["bleed"] = "no-backing"
        elif not look.pauses():
            not_told["bleed"] = "no-pause"
        else:
            bleed = look.bleed(backing, active_rms)
            findings += bleed_findings(bleed, duration_s)
        leaks = bleed.level_db is not None
        return Looked(
            findings=tuple(findings),
            not_told=not_told,
            backing_lag_s=bleed.lag_s if leaks else None,
            backing_lag_band_ms=bleed.lag_band_ms if leaks else None,
            drift_ppm=bleed.drift_ppm,
        )

    def _level(self, rms: float, active_rms: float, loudness_power: np.ndarray, true_peak: float) -> Level:
        sample_peak_dbfs, rms_dbfs = _in_dbfs(self.peak.max()), _in_dbfs(rms)
        return Level(
            sample_peak_dbfs=sample_peak_dbfs,
            true_peak_dbtp=_in_dbfs(true_peak),
            rms_dbfs=rms_dbfs,
            active_rms_dbfs=_in_dbfs(active_rms),
            loudness_lufs=integrated_loudness_lufs(loudness_power),
            loudest_3s_lufs=loudest_3s_lufs(loudness_power),
            crest_db=None if rms_dbfs is None or sample_peak_dbfs is None else sample_peak_dbfs - rms_dbfs,
        )


def _noise(meter: FloorMeter, parts: NoiseMeter, active_dbfs: float | None) -> Noise:
    floor_a = meter.floor_dbfs_a
    clean_range_db = None if floor_a is None or active_dbfs is None else active_dbfs - floor_a
    return Noise(floor_dbfs=meter.floor_dbfs, floor_dbfs_a=floor_a, clean_range_db=clean_range_db, parts=parts.parts())


def _in_dbfs(amplitude: float) -> float | None:
    """Amplitude (or RMS) in dBFS, None for nothing at all."""
    return 20 * math.log10(amplitude) if amplitude > 0 else None
