"""What is wrong with a take, sorted by whether it can be mended, with the rule for each."""

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import pairwise
from typing import Final

from pneumen.core.verdict import Verdict

KINDS: Final = (
    "clipping",
    "dropout",
    "plosive",
    "thump",
    "echo",
    "lossy",
    "level-riding",
    "bleed",
    "silent",
    "too-hot",
    "too-quiet",
    "noise",
    "hum",
    "sibilance",
    "click",
    "dc",
    "wrong-channels",
)
"""Every fault a file is to be looked through for."""
SILENT_BELOW_DBFS: Final = -90.0
LEAST_TOUCHES: Final = 2
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


@dataclass(frozen=True, slots=True, kw_only=True)
class NotChecked:
    """A fault that nothing can be told of; why is a key of the reasons that are worded elsewhere."""

    kind: str
    why: str


def checks_of(not_told: Mapping[str, str], *, silent: bool) -> tuple[tuple[str, ...], tuple[NotChecked, ...]]:
    """Return which faults were looked for in a file, and which were not and why: together all KINDS.

    Args:
        not_told: the reason for each kind that the file does not allow to be judged.
        silent: nothing was recorded: then nothing else can be told.
    """
    why = dict.fromkeys((kind for kind in KINDS if kind != "silent"), "silent") if silent else not_told
    checked = tuple(kind for kind in KINDS if kind not in why)
    return checked, tuple(NotChecked(kind=kind, why=why[kind]) for kind in KINDS if kind in why)


def likely_clipping(touched: list[int], sample_rate_hz: int, *, found: bool) -> list[Finding]:
    """Return what single samples at full scale tell: clipping is likely from the second on.

    Args:
        touched: those samples of one channel, in order of time; one alone is what a file turned up to full scale has.
        found: whether flat tops prove it already.
    """
    if found or len(touched) < LEAST_TOUCHES:
        return []
    return [
        Finding(
            kind="clipping",
            start_s=touched[0] / sample_rate_hz,
            end_s=(touched[-1] + 1) / sample_rate_hz,
            value=1 + int(any(later - one == 1 for one, later in pairwise(touched))),
            unit="samples",
            verdict=Verdict.WATCH,
            cause="likely-clipping",
        )
    ]


def clipping_findings(tops: list[tuple[int, int]], sample_rate_hz: int, *, meant: bool = False) -> list[Finding]:
    """Gather flat tops (first and last sample, in order of time) into places.

    Args:
        meant: the source may be driven on purpose, as an amplifier is: what is flat may be its own.
    """
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
            verdict=Verdict.WATCH if meant else Verdict.BAKED_IN,
            cause="driven" if meant else "",
        )
        for place in places
    ]


def is_silent(sample_peak_dbfs: float | None) -> bool:
    """Return whether a file holds nothing that could be judged."""
    return sample_peak_dbfs is None or sample_peak_dbfs < SILENT_BELOW_DBFS


def whole_file_findings(
    *,
    duration_s: float,
    sample_peak_dbfs: float | None,
    clean_range_db: float | None,
    dc_offset: float,
    channels_say: str,
    clipped: bool,
    hum_hz: float | None = None,
    channels_cause: str = "",
) -> list[Finding]:
    """Judge what holds for the file as a whole; channels_cause says more of channels that are no pair.

    hum_hz is the frequency of the mains that hums in it, None where none does.
    """

    def whole(kind: str, value: float | None, unit: str, verdict: Verdict, cause: str = "") -> Finding:
        return Finding(kind=kind, start_s=0.0, end_s=duration_s, value=value, unit=unit, verdict=verdict, cause=cause)

    peak = sample_peak_dbfs
    if peak is None or is_silent(peak):
        return [whole("silent", peak, "dBFS", Verdict.BAKED_IN)]
    found = []
    if peak > -1 and not clipped:
        found.append(whole("too-hot", peak, "dBFS", Verdict.WATCH, "over-full-scale" if peak > 0 else ""))
    if peak < -24:
        found.append(whole("too-quiet", peak, "dBFS", Verdict.MENDABLE if peak < -30 else Verdict.WATCH))
    if clean_range_db is not None and clean_range_db < 40:
        noisy = Verdict.MENDABLE if clean_range_db < 30 else Verdict.WATCH
        found.append(whole("noise", clean_range_db, "dB", noisy))
    if hum_hz is not None:
        found.append(whole("hum", hum_hz, "Hz", Verdict.MENDABLE))
    if abs(dc_offset) > 0.005:
        found.append(whole("dc", dc_offset, "fraction of full scale", Verdict.MENDABLE))
    if channels_say in ("dual-mono", "one-sided"):
        found.append(whole("wrong-channels", 1, "channels", Verdict.MENDABLE, channels_cause or channels_say))
    return found
