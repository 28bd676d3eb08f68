"""What measuring a recorded file finds, as one frozen result."""

from dataclasses import dataclass

from pneumen.core.take.findings import Finding, NotChecked
from pneumen.core.take.noise_parts import NoisePart
from pneumen.core.verdict import Verdict


@dataclass(frozen=True, slots=True, kw_only=True)
class Format:
    container: str
    encoding: str
    sample_rate_hz: int
    channels: int
    duration_s: float
    truncated: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Level:
    """Levels of a file; None where a figure cannot be measured."""

    sample_peak_dbfs: float | None
    true_peak_dbtp: float | None
    rms_dbfs: float | None
    active_rms_dbfs: float | None
    loudness_lufs: float | None
    loudest_3s_lufs: float | None
    crest_db: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Noise:
    """The floor of the pauses, and what it is made of; None where the take has none."""

    floor_dbfs: float | None
    floor_dbfs_a: float | None
    clean_range_db: float | None
    parts: tuple[NoisePart, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Measurement:
    """All that measure finds in one file; verdict claims no more than was checked.

    backing_lag_s is how much later the backing stands in the file, where its leak tells that, and backing_lag_band_ms
    how far off that may be; drift_ppm how much too fast its recorder's clock ran, where the leak tells another one.
    """

    file: str
    format: Format
    level: Level
    noise: Noise
    dc_offset: float
    channels_say: str
    findings: tuple[Finding, ...]
    verdict: Verdict
    checked: tuple[str, ...] = ()
    not_checked: tuple[NotChecked, ...] = ()
    backing_lag_s: float | None = None
    backing_lag_band_ms: float | None = None
    drift_ppm: float | None = None
