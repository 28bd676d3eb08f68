"""What is wrong with a take, sorted by whether it can be mended, with the rule for each."""

from dataclasses import dataclass
from typing import Final

from pneumen.core.verdict import Verdict

SILENT_BELOW_DBFS: Final = -90.0
CLIP_GAP_S: Final = 0.25
"""Flat tops closer together than this are told as one place."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Finding:
    """One thing wrong at one place; value None where there is no figure to it, cause where a kind has several."""

    kind: str
    start_s: float
    end_s: float
    value: float | None
    unit: str
    verdict: Verdict
    cause: str = ""


def clipping_findings(tops: list[tuple[int, int]], sample_rate_hz: int) -> list[Finding]:
    """Gather flat tops (first and last sample, in order of time) into places."""
    places: list[list[tuple[int, int]]] = []
    for top in tops:
        if places and top[0] - places[-1][-1][1] <= CLIP_GAP_S * sample_rate_hz:
            places[-1].append(top)
        else:
            places.append([top])
    return [
        Finding(
            kind="clipping",
            start_s=place[0][0] / sample_rate_hz,
            end_s=(place[-1][1] + 1) / sample_rate_hz,
            value=max(last - first + 1 for first, last in place),
            unit="samples",
            verdict=Verdict.BAKED_IN,
        )
        for place in places
    ]


def whole_file_findings(
    *,
    duration_s: float,
    sample_peak_dbfs: float | None,
    clean_range_db: float | None,
    dc_offset: float,
    channels_say: str,
    clipped: bool,
) -> list[Finding]:
    """Judge what holds for the file as a whole."""

    def whole(kind: str, value: float | None, unit: str, verdict: Verdict, cause: str = "") -> Finding:
        return Finding(kind=kind, start_s=0.0, end_s=duration_s, value=value, unit=unit, verdict=verdict, cause=cause)

    peak = sample_peak_dbfs
    if peak is None or peak < SILENT_BELOW_DBFS:
        return [whole("silent", peak, "dBFS", Verdict.BAKED_IN)]
    found = []
    if peak > -1 and not clipped:
        found.append(whole("too-hot", peak, "dBFS", Verdict.WATCH))
    if peak < -24:
        found.append(whole("too-quiet", peak, "dBFS", Verdict.MENDABLE if peak < -30 else Verdict.WATCH))
    if clean_range_db is not None and clean_range_db < 40:
        noisy = Verdict.MENDABLE if clean_range_db < 30 else Verdict.WATCH
        found.append(whole("noise", clean_range_db, "dB", noisy))
    if abs(dc_offset) > 0.005:
        found.append(whole("dc", dc_offset, "fraction of full scale", Verdict.MENDABLE))
    if channels_say in ("dual-mono", "one-sided"):
        found.append(whole("wrong-channels", 1, "channels", Verdict.MENDABLE, channels_say))
    return found
