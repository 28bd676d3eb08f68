"""Faults that have a place in a take or a cause in its room: dropouts, clicks, blasts, harsh S, echo, a riding gain."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Final

from pneumen.core.take.blasts import Blast, blasts_in, is_low_source
from pneumen.core.take.bleed import Bleed
from pneumen.core.take.comb import Comb
from pneumen.core.take.echo import Echo, echo_of
from pneumen.core.take.findings import Finding
from pneumen.core.take.frames import Frames
from pneumen.core.take.level_riding import LEAST_PAUSES, noise_rise
from pneumen.core.take.lossy import Coding
from pneumen.core.take.played import Played
from pneumen.core.take.sibilance import hisses_in
from pneumen.core.take.words import HISS_HZ, holds_words
from pneumen.core.verdict import Verdict

MOST_TOLD: Final = 200
"""So many places of one kind are told; a file with more of them is told as one that has them all over."""
CLICK_NEAR_S: Final = 0.005
"""A click so near to a dropout or to a flat top is its edge."""
BLEED_WATCH_DB, BLEED_BAKED_DB = -35.0, -20.0
"""A leak so far under the sound is heard in soft passages, and everywhere (estimates)."""
LIKE_PLANNED: Final = 1.25
"""A room that rings on by no more than this much over what was predicted is the one that was planned (estimate)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Looked:
    """What was found of some kinds, and of which kinds nothing could be told, with the reason.

    backing_lag_s is how much later the backing stands in the take, where its leak tells that, and backing_lag_band_ms
    how far off that may be; drift_ppm how much too fast its clock ran, where that is another one.
    """

    findings: tuple[Finding, ...]
    not_told: dict[str, str]
    backing_lag_s: float | None = None
    backing_lag_band_ms: float | None = None
    drift_ppm: float | None = None


def sudden_faults(
    dropouts: Iterable[tuple[int, int]],
    clicks: Iterable[tuple[float, float]],
    clipped: Iterable[Finding],
    sample_rate_hz: int,
) -> list[Finding]:
    """Return dropouts and clicks; what clicks at the edge of another fault is not told twice.

    Args:
        dropouts: first sample and one after the last of each.
        clicks: (at_s, dB over its surroundings) of each.
    """
    lost = [
        Finding(
            kind="dropout",
            start_s=first / sample_rate_hz,
            end_s=last / sample_rate_hz,
            value=last - first,
            unit="samples",
            verdict=Verdict.BAKED_IN,
        )
        for first, last in dropouts
    ][:MOST_TOLD]
    others = [*lost, *clipped]
    heard = [
        Finding(kind="click", start_s=at_s, end_s=at_s, value=over_db, unit="dB", verdict=Verdict.MENDABLE)
        for at_s, over_db in clicks
        if not any(one.start_s - CLICK_NEAR_S <= at_s <= one.end_s + CLICK_NEAR_S for one in others)
    ]
    return lost + heard[:MOST_TOLD]


def heard_faults(frames: Frames, played: Played, duration_s: float) -> Looked:
    """Return the faults that show in the bands of a take: blasts, harsh S, echo, a riding gain."""
    words = holds_words(frames) if played.words is None else played.words
    not_told: dict[str, str] = {}
    findings: list[Finding] = []
    if not words:
        not_told |= {"plosive": "no-words", "sibilance": "no-words"}
    if is_low_source(frames) and not words:
        not_told |= {"plosive": "low-source", "thump": "low-source"}
    else:
        findings += [_blast(one) for one in blasts_in(frames, words=words) if words or not one.in_word][:MOST_TOLD]
    if words and frames.top_hz < HISS_HZ[1]:
        not_told["sibilance"] = "low-rate"
    elif words:
        findings += [
            Finding(
                kind="sibilance",
                start_s=one.start_s,
                end_s=one.end_s,
                value=one.beside_voice_db,
                unit="dB",
                verdict=Verdict.MENDABLE,
            )
            for one in hisses_in(frames)
            if one.harsh
        ][:MOST_TOLD]
    echo = echo_of(frames, rings=False if words else played.rings)
    if echo.t60_s is None:
        not_told["echo"] = "no-free-end"
    elif echo.told:
        cause = _cause_of_echo(echo, echo.t60_s, played)
        verdict = Verdict.WATCH if cause else Verdict.BAKED_IN
        findings.append(_whole("echo", echo.t60_s, "s", verdict, duration_s, cause))
    rise = noise_rise(frames)
    if rise.pauses < LEAST_PAUSES:
        not_told["level-riding"] = "few-pauses"
    elif rise.rides:
        findings.append(_whole("level-riding", rise.rise_db, "dB", Verdict.BAKED_IN, duration_s))
    return Looked(findings=tuple(findings), not_told=not_told)


def _cause_of_echo(echo: Echo, t60_s: float, played: Played) -> str:
    """Return what else an echo may be: the source's own, or a room that was planned to be heard so far."""
    if echo.own:
        return "rings-itself"
    planned = played.room_s is not None and t60_s <= LIKE_PLANNED * played.room_s
    return "room-as-planned" if planned else ""


def lossy_findings(
    coding: Coding, sample_rate_hz: int, duration_s: float, *, in_lossy_file: bool, rides: bool
) -> list[Finding]:
    """Return what tells of a lossy coder: its container, its traces, or an edge alone.

    Args:
        in_lossy_file: the file itself is compressed with loss.
        rides: a gain rides on the take; that turns noise down where it is loud, as a coder does.
    """
    edge_hz = sample_rate_hz / 2 if coding.edge_hz is None else coding.edge_hz
    if in_lossy_file:
        return [_whole("lossy", edge_hz, "Hz", Verdict.BAKED_IN, duration_s, "lossy-container")]
    if coding.frames or (coding.holes and not rides):
        return [_whole("lossy", edge_hz, "Hz", Verdict.BAKED_IN, duration_s)]
    if coding.is_edged:
        return [_whole("lossy", edge_hz, "Hz", Verdict.WATCH, duration_s, "edge")]
    return []


def comb_findings(comb: Comb | None, duration_s: float) -> list[Finding]:
    """Return an early reflection as a finding of its own: its value is how much later it comes than the voice."""
    if comb is None:
        return []
    return [_whole("echo", comb.delay_s, "s", Verdict.BAKED_IN, duration_s, "early-comb")]


def bleed_findings(bleed: Bleed, duration_s: float) -> list[Finding]:
    """Return how much of the backing is in a take, where it is heard."""
    level_db = bleed.level_db
    if level_db is None or level_db < BLEED_WATCH_DB:
        return []
    baked_in = level_db >= BLEED_BAKED_DB or bleed.clicks
    cause = "holds-backing" if bleed.holds else "click-leak" if bleed.clicks else ""
    verdict = Verdict.BAKED_IN if baked_in else Verdict.WATCH
    return [_whole("bleed", level_db, "dB", verdict, duration_s, cause)]


def _blast(one: Blast) -> Finding:
    return Finding(
        kind="plosive" if one.in_word else "thump",
        start_s=one.start_s,
        end_s=one.end_s,
        value=one.over_db,
        unit="dB",
        verdict=Verdict.BAKED_IN,
    )


def _whole(kind: str, value: float, unit: str, verdict: Verdict, duration_s: float, cause: str = "") -> Finding:
    return Finding(kind=kind, start_s=0.0, end_s=duration_s, value=value, unit=unit, verdict=verdict, cause=cause)
