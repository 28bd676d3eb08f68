"""Where a take lies in the song, and how surely that is known."""

from dataclasses import dataclass
from typing import Final

EAR, LEAK, STAMP, OTHERS, LOOPBACK, START = SOURCES = (
    "ear",
    "leak",
    "stamp",
    "others",
    "loopback",
    "start",
)
"""From the surest: set by ear, the backing's leak, the file's own time stamp, the other takes, the recording offset
that was measured, or only that recording began with the song."""
BANDS_MS: Final = {EAR: 10.0, LEAK: 15.0, STAMP: 1.0, OTHERS: 30.0, LOOPBACK: 2.0, START: 50.0}
"""How far off each may be (estimates); a leak may tell its own."""
FAR_S: Final = 0.25
"""Takes that lie farther apart were not begun at the same moment."""


@dataclass(frozen=True, slots=True, kw_only=True)
class TakeOffset:
    """The song time of a take's first sample, which of SOURCES tells it, and how far off it may be.

    drift_ppm is how much too fast its recorder's clock ran, None where that is not known; clock which of EAR and LEAK
    tells it.
    """

    offset_s: float
    source: str
    band_ms: float
    drift_ppm: float | None = None
    clock: str = ""


def take_offset(
    *,
    by_ear_s: float | None = None,
    clock_by_ear_ppm: float | None = None,
    leak_lag_s: float | None = None,
    leak_band_ms: float | None = None,
    leak_drift_ppm: float | None = None,
    zero_s: float = 0.0,
    time_reference_s: float | None = None,
    song_s: float = 0.0,
    others_lag_s: float | None = None,
    recording_offset_s: float | None = None,
) -> TakeOffset:
    """Return where a take lies, from the surest that is known.

    Args:
        by_ear_s, clock_by_ear_ppm: set by hand.
        leak_lag_s: how much later the backing stands in the take than in its own file; leak_band_ms: how far off
            that may be; leak_drift_ppm: by how much too fast a clock, where it tells that.
        zero_s: where the song's zero lies in the backing's file.
        time_reference_s: what the file's own time stamp tells: since the song's start, or since midnight.
        song_s: how long the song is: a stamp beyond it counts from midnight and says nothing here.
        others_lag_s: how much later the song begins in it, as the other takes tell: it counts only where that is
            plainly not how takes are begun.
        recording_offset_s: how late a recording comes in, as it was measured.

    >>> take_offset(leak_lag_s=0.5, zero_s=2.0).offset_s
    -2.5
    """
    drift_ppm = leak_drift_ppm if clock_by_ear_ppm is None else clock_by_ear_ppm
    clock = "" if drift_ppm is None else LEAK if clock_by_ear_ppm is None else EAR
    offset_s, source = _placed(by_ear_s, leak_lag_s, zero_s, time_reference_s, song_s, others_lag_s, recording_offset_s)
    band_ms = leak_band_ms if source == LEAK and leak_band_ms is not None else BANDS_MS[source]
    return TakeOffset(offset_s=offset_s, source=source, band_ms=band_ms, drift_ppm=drift_ppm, clock=clock)


def _placed(
    by_ear_s: float | None,
    leak_lag_s: float | None,
    zero_s: float,
    time_reference_s: float | None,
    song_s: float,
    others_lag_s: float | None,
    recording_offset_s: float | None,
) -> tuple[float, str]:
    if by_ear_s is not None:
        return by_ear_s, EAR
    if leak_lag_s is not None:
        return -leak_lag_s - zero_s, LEAK
    late_s = recording_offset_s or 0.0
    if time_reference_s is not None and 0 < time_reference_s < song_s:
        return time_reference_s - late_s, STAMP
    if others_lag_s is not None and abs(late_s - others_lag_s) > FAR_S:
        return -others_lag_s, OTHERS
    if recording_offset_s is not None:
        return -recording_offset_s, LOOPBACK
    return 0.0, START
