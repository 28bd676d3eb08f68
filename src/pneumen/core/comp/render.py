"""Takes joined phrase by phrase into one track."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from itertools import pairwise
from statistics import median
from typing import Final

import numpy as np

from pneumen.core.comp.document import Comp
from pneumen.core.comp.seams import LEVEL_STEP, STEP_DB, Crossing, Seam, Side, crossing_at, judged, quietest_at
from pneumen.core.levels import db_to_ratio, ratio_to_db
from pneumen.core.take import Finding, LaidTake, active_level_dbfs, clipping_in, lowering_for
from pneumen.core.verdict import Verdict

BITS: Final = 24
MOST_MATCH_DB: Final = 3.0


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class JoinedTakes:
    """The joined track, shape (channels, N), and how its seams turned out.

    gain_db is what the whole had to be lowered by; gains_db what each phrase was given, matching included.
    """

    samples: np.ndarray
    rate_hz: int
    gain_db: float
    gains_db: tuple[float, ...]
    seams: tuple[Seam, ...]
    findings: tuple[Finding, ...]

    @property
    def sample_peak_dbfs(self) -> float | None:
        peak = max(float(self.samples.max()), -float(self.samples.min()))
        return ratio_to_db(peak) if peak > 0 else None


@dataclass(slots=True)
class _Region:
    """One phrase while it is laid: its take, its samples, and the crossfades it shares with its neighbours."""

    side: Side
    first: int
    stop: int
    before: Crossing | None = None
    after: Crossing | None = None
    runs_in: bool = False
    runs_on: bool = False


def join_takes(comp: Comp, sources: Mapping[str, LaidTake]) -> JoinedTakes:
    """Join takes phrase by phrase.

    Args:
        sources: the comp's takes, opened at its rate.

    Raises:
        UnreadableFile: where a sample is not a number.
    """
    gains_db = _gains_db(comp, sources)
    regions = [
        _Region(
            side=Side(name=phrase.take, source=sources[phrase.take], gain=float(db_to_ratio(gain_db))),
            first=comp.sample(phrase.start_s),
            stop=comp.sample(phrase.end_s),
        )
        for phrase, gain_db in zip(comp.phrases, gains_db, strict=True)
    ]
    moved = _meet(comp, regions)
    out = np.zeros((max(region.side.source.channels for region in regions), comp.frames))
    for region in regions:
        _lay(out, region, fade=comp.sample(comp.fade_ms / 1000), cut=comp.crossfade_ms == 0)
    seams = tuple(_seams(comp, regions, moved, out))
    findings = [*_of_phrases(comp, regions), *_of_seams(seams)]
    over = lowering_for(float(out.max()), float(out.min()), BITS)
    gain_db = ratio_to_db(over) if over < 1 else 0.0
    if over < 1:
        out *= over
        findings.append(_finding("clipping", 0.0, comp.frames / comp.rate_hz, -gain_db, "dB", Verdict.WATCH, "sum"))
    return JoinedTakes(
        samples=out,
        rate_hz=comp.rate_hz,
        gain_db=gain_db,
        gains_db=tuple(gains_db),
        seams=seams,
        findings=tuple(sorted(findings, key=lambda one: one.start_s)),
    )


def _gains_db(comp: Comp, sources: Mapping[str, LaidTake]) -> list[float]:
    """Return each phrase's gain: its own, its take's, and what brings it to the median of all takes in its span."""
    found = []
    for phrase in comp.phrases:
        gain_db = phrase.gain_db + comp.takes[phrase.take].gain_db
        if comp.match_levels:
            gain_db += _match_db(
                comp, sources, phrase.take, comp.sample(phrase.start_s), comp.sample(phrase.end_s), phrase.gain_db
            )
        found.append(gain_db)
    return found


def _match_db(
    comp: Comp, sources: Mapping[str, LaidTake], name: str, first: int, stop: int, phrase_gain_db: float
) -> float:
    levels = {
        each: level + comp.takes[each].gain_db
        for each, source in sources.items()
        if (level := active_level_dbfs(source.stretch(first, stop), comp.rate_hz)) is not None
    }
    if name not in levels:
        return 0.0
    wanted = median(levels.values()) - levels[name] - phrase_gain_db
    return float(np.clip(wanted, -MOST_MATCH_DB, MOST_MATCH_DB))


def _meet(comp: Comp, regions: list[_Region]) -> dict[int, int]:
    """Settle where neighbours that touch change over; return how far each change has moved, in samples."""
    wanted, reach = comp.sample(comp.crossfade_ms / 1000), comp.sample(comp.seam_search_ms / 1000)
    moved: dict[int, int] = {}
    for region, following in pairwise(regions):
        if region.stop != following.first:
            continue
        one, other = region.side, following.side
        if one.name == other.name and one.gain == other.gain:
            region.runs_on = following.runs_in = True
            continue
        at = region.stop
        if reach and one.name != other.name:
            # A moved seam keeps a crossfade's length of either phrase, and stays where both takes hold something.
            first = max(region.first + wanted, other.source.first + wanted // 2)
            stop = min(following.stop - wanted, one.source.stop - wanted // 2)
            at = quietest_at(at, one, other, reach=reach, samples=wanted, first=first, stop=stop, rate_hz=comp.rate_hz)
        moved[at] = at - region.stop
        region.stop = following.first = at
        longest = min(region.stop - region.first, following.stop - following.first) // 2
        region.after = following.before = crossing_at(at, one, other, wanted=wanted, longest=longest)
    return moved


def _seams(comp: Comp, regions: list[_Region], moved: dict[int, int], out: np.ndarray) -> Iterator[Seam]:
    for region, following in pairwise(regions):
        if region.after is not None:
            spans = ((region.first, region.stop), (following.first, following.stop))
            at = region.after
            yield judged(at, region.side, following.side, out, spans, comp.rate_hz, moved[at.at])


def _lay(out: np.ndarray, region: _Region, *, fade: int, cut: bool) -> None:
    """Add a phrase to the track: its crossfades where it meets a neighbour, short fades where it stands free.

    Args:
        cut: neighbours meet without a crossfade, by one's own wish.
    """
    first = region.before.first if region.before else region.first
    stop = region.after.stop if region.after else region.stop
    source = region.side.source
    held_first, held_stop = max(first, source.first), min(stop, source.stop)
    if held_stop <= held_first:
        return
    window = np.full(held_stop - held_first, region.side.gain)
    fade = min(fade, (held_stop - held_first) // 2)
    ramp = np.sin((np.arange(fade) + 0.5) / max(fade, 1) * np.pi / 2) ** 2
    if region.before and region.before.samples:
        window[: region.before.samples] *= region.before.fade_in()
    elif fade and not ((region.runs_in or (cut and region.before)) and held_first == first):
        window[:fade] *= ramp
    if region.after and region.after.samples:
        window[len(window) - region.after.samples :] *= region.after.fade_in()[::-1]
    elif fade and not ((region.runs_on or (cut and region.after)) and held_stop == stop):
        window[len(window) - fade :] *= ramp[::-1]
    out[:, held_first:held_stop] += source.stretch(held_first, held_stop) * window


def _of_phrases(comp: Comp, regions: list[_Region]) -> list[Finding]:
    """Return what is wrong with the phrases themselves: too short a take, another rate, flat tops."""
    found = []
    resampled: dict[str, _Region] = {}
    for region in regions:
        source, rate_hz = region.side.source, comp.rate_hz
        if source.is_resampled:
            resampled.setdefault(region.side.name, region)
        missing = max(0, min(source.first, region.stop) - region.first) + max(
            0, region.stop - max(source.stop, region.first)
        )
        if missing:
            span = (region.first / rate_hz, region.stop / rate_hz)
            found.append(_finding("short-take", *span, missing / rate_hz, "s", Verdict.MENDABLE, region.side.name))
        begin, end = max(region.first, source.first), min(region.stop, source.stop)
        if end > begin:
            for one in clipping_in(source.stretch(begin, end), rate_hz, source.least_step):
                span = (one.start_s + begin / rate_hz, one.end_s + begin / rate_hz)
                found.append(replace(one, start_s=span[0], end_s=span[1], cause=region.side.name))
    for name, region in resampled.items():
        source = region.side.source
        drifts = source.own_rate_hz == comp.rate_hz
        value, unit = (source.drift_ppm, "ppm") if drifts else (source.own_rate_hz, "Hz")
        found.append(_finding("resampled", 0.0, comp.frames / comp.rate_hz, value, unit, Verdict.CLEAR, name))
    return found


def _of_seams(seams: tuple[Seam, ...]) -> list[Finding]:
    found = []
    for seam in seams:
        half_s = seam.crossfade_ms / 2000
        span = (seam.at_s - half_s, seam.at_s + half_s)
        if seam.step_db is not None and abs(seam.step_db) > STEP_DB:
            verdict = Verdict.CLEAR if seam.steps_by_itself else Verdict.MENDABLE
            found.append(_finding(LEVEL_STEP, *span, seam.step_db, "dB", verdict, seam.to_take))
        if seam.why == "cuts-a-note":
            found.append(_finding("cuts-a-note", *span, seam.level_db, "dB", Verdict.MENDABLE, seam.to_take))
    return found


def _finding(
    kind: str, start_s: float, end_s: float, value: float | None, unit: str, verdict: Verdict, cause: str
) -> Finding:
    return Finding(kind=kind, start_s=start_s, end_s=end_s, value=value, unit=unit, verdict=verdict, cause=cause)
