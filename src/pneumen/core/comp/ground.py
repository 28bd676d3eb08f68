"""The takes of a part as they lie in the song, and what each holds of each line."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final

import numpy as np

from pneumen.core.comp.vote import HOP_S, OUTSIDE_DB, Span, levels_in_song, sounding
from pneumen.core.comp.warp import Warp, warp_between
from pneumen.core.performance import TONE_PER_S, Study, off_cents, pairs_between, semitone_of, shape_of, tuning_of
from pneumen.core.take import Finding, PeakTrace

FAULTS: Final = ("clipping", "dropout")
"""What nothing mends inside a phrase, and cannot be heard past."""
LAG_FROM_S: Final = 0.08
"""What lies less apart is the performance's own timing, and stays (estimate)."""
HOLDS_SHARE: Final = 0.8
SOUNDS_SHARE: Final = 0.15
WHOLE_SHARE: Final = 0.98
EDGE_S: Final = 0.06
LEAST_NOTES: Final = 2
LEAST_TONES: Final = 2
LEAST_NOTE_S: Final = 0.15

Late = list[tuple[float, float]]
"""When a note begins in song time, and how much later that is than the takes begin it on the mean."""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class TakeFile:
    """What is known of one take before it is laid: all times in its own file.

    chroma has shape (frames, 12), tone (frames, 7), empty where it was not listened to.
    """

    duration_s: float
    trace: PeakTrace | None
    study: Study | None
    chroma: np.ndarray
    tone: np.ndarray
    findings: tuple[Finding, ...]


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class TakeGround:
    """One take laid into the song; levels_db and sounds are every 20 ms of song time.

    warp tells how much later each moment is than in the take the others are laid to, beside the offset.
    """

    file: TakeFile
    offset_s: float
    levels_db: np.ndarray
    sounds: np.ndarray
    onsets_s: np.ndarray
    warp: Warp | None

    def lag_in(self, span: Span) -> float:
        """Return how much later a stretch lies than in the first take; 0 where that is the performance's timing."""
        if self.warp is None:
            return 0.0
        lag_s = self.warp.lag_between(span.start_s, span.end_s)
        return lag_s if abs(lag_s) > LAG_FROM_S else 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class LineFigures:
    """What one take holds of one line.

    faults counts clipping and dropouts inside it, others the other findings, kinds names them all. offset_ms: how
    much later its notes begin than the takes' do on the mean; cents: how far they lie over its tuning; level_db: of its
    peaks while it sounds; tone: how many dB each octave lies over what the takes have there on the mean, at one
    loudness, empty where that is not known. lag_s is taken out when it is laid into the song. sounds_in, sounds_out:
    it sounds at the line's edges, so that a change of takes there would be heard.
    """

    holds: bool
    faults: int = 0
    others: int = 0
    kinds: tuple[str, ...] = ()
    offset_ms: float | None = None
    cents: float | None = None
    level_db: float | None = None
    tone: tuple[float, ...] = ()
    lag_s: float = 0.0
    sounds_in: bool = False
    sounds_out: bool = False


def warp_of(first: TakeFile, other: TakeFile) -> Warp | None:
    """Return how a take lies against another, both in the time of their own files; None where it cannot be told."""
    if first.study is None or other.study is None:
        return None
    return warp_between(
        first.chroma, other.chroma, one_onsets_s=first.study.onsets_s, other_onsets_s=other.study.onsets_s
    )


def first_of(files: Sequence[TakeFile]) -> int:
    """Return the number of the take the others are laid to: the longest."""
    return max(range(len(files)), key=lambda number: files[number].duration_s, default=0)


def lay_takes(
    files: Sequence[TakeFile],
    offsets_s: Sequence[float],
    song_s: float,
    *,
    first: int | None = None,
    to_backing: Sequence[bool] = (),
) -> list[TakeGround]:
    """Return takes laid into a song of a length, each at its offset and beside the first.

    Args:
        first: the number of the take the others are laid to; left out, the longest.
        to_backing: which takes were played to the song's backing: among those what one does later than another is the
            performance, and stays; left out, none was.
    """
    first = first_of(files) if first is None else first
    timed = list(to_backing) or [False] * len(files)
    found = []
    for number, (file, offset_s) in enumerate(zip(files, offsets_s, strict=True)):
        one_clock = number == first or (timed[number] and timed[first])
        raw = None if one_clock else warp_of(files[first], file)
        warp = None
        if raw is not None:
            lag_s = raw.lag_s + offset_s - offsets_s[first]
            warp = Warp(at_s=raw.at_s + offsets_s[first], lag_s=lag_s)
        found.append(_ground(file, offset_s, song_s, warp))
    return found


def _ground(file: TakeFile, offset_s: float, song_s: float, warp: Warp | None) -> TakeGround:
    levels = np.full(round(song_s / HOP_S), OUTSIDE_DB)
    if file.trace is not None:
        levels = levels_in_song(file.trace, offset_s=offset_s, length_s=song_s)
    levels = _moved(levels, warp)
    onsets = np.array(file.study.onsets_s if file.study else (), float) + offset_s
    return TakeGround(
        file=file, offset_s=offset_s, levels_db=levels, sounds=sounding(levels), onsets_s=onsets, warp=warp
    )


def _moved(levels: np.ndarray, warp: Warp | None) -> np.ndarray:
    """Return levels as they stand to the first take's time, where a take runs beside it."""
    if warp is None or np.abs(warp.lag_s).max() <= LAG_FROM_S:
        return levels
    times = np.arange(len(levels)) * HOP_S
    lag = np.interp(times, warp.at_s, warp.lag_s)
    lag[np.abs(lag) <= LAG_FROM_S] = 0.0
    return np.asarray(levels[np.clip(np.round((times + lag) / HOP_S).astype(int), 0, len(levels) - 1)])


def line_figures(grounds: Sequence[TakeGround], spans: Sequence[Span | None]) -> list[list[LineFigures]]:
    """Return what each take holds of each line: a row for each line, in the order of the takes.

    Args:
        spans: None for a line that was not laid.
    """
    late = _lateness(grounds)
    tuned = [_cents(one) for one in grounds]
    return [
        [LineFigures(holds=False)] * len(grounds)
        if span is None
        else _with_tone(grounds, span, [_figures(one, span, late[at], tuned[at]) for at, one in enumerate(grounds)])
        for span in spans
    ]


def _with_tone(grounds: Sequence[TakeGround], span: Span, figures: Sequence[LineFigures]) -> list[LineFigures]:
    """Return what takes hold of a line with how their tone differs from that of the others."""
    shapes = [_shape(ground, span) if one.holds else None for ground, one in zip(grounds, figures, strict=True)]
    known = [shape for shape in shapes if shape is not None]
    if len(known) < LEAST_TONES:
        return list(figures)
    middle = np.median(known, axis=0)
    return [
        one if shape is None else replace(one, tone=tuple((np.round(shape - middle, 1) + 0.0).tolist()))
        for one, shape in zip(figures, shapes, strict=True)
    ]


def _shape(one: TakeGround, span: Span) -> np.ndarray | None:
    """Return the tone of a take in a line; None where it was not listened to."""
    shift_s = one.lag_in(span) - one.offset_s
    first, last = (max(0, round((at_s + shift_s) * TONE_PER_S)) for at_s in (span.start_s, span.end_s))
    return shape_of(one.file.tone[first:last])


def _figures(one: TakeGround, span: Span, late: Late, tuned: list[tuple[float, float, float]]) -> LineFigures:
    first, last = round(span.start_s / HOP_S), round(span.end_s / HOP_S)
    sounds = one.sounds[first:last]
    held = ~np.isnan(sounds)
    if not sounds.size or held.mean() < HOLDS_SHARE or np.nansum(sounds) < SOUNDS_SHARE * sounds.size:
        return LineFigures(holds=False)
    lag_s = one.lag_in(span)
    inside = [off for at, off in late if span.start_s <= at - lag_s < span.end_s]
    middle = float(np.median(inside)) if len(inside) >= LEAST_NOTES else None
    notes = [(off, weight) for at, off, weight in tuned if span.start_s <= at - lag_s < span.end_s]
    loud = one.levels_db[first:last][sounds == 1]
    faults, others, kinds = _found_in(one, span, lag_s)
    return LineFigures(
        holds=True,
        faults=faults,
        others=others,
        kinds=kinds,
        offset_ms=None if middle is None else 1000 * middle,
        cents=float(np.average([off for off, _ in notes], weights=[weight for _, weight in notes])) if notes else None,
        level_db=10 * float(np.log10(np.mean(10 ** (loud / 10)))),
        # The beginnings of notes tell a lag finer than frames of a tenth of a second do.
        lag_s=lag_s + (middle or 0.0) if lag_s else 0.0,
        sounds_in=_sounds_at(one.sounds, first),
        sounds_out=_sounds_at(one.sounds, last),
    )


def _sounds_at(sounds: np.ndarray, place: int) -> bool:
    edge = round(EDGE_S / HOP_S)
    around = sounds[max(0, place - edge) : place + edge]
    around = around[~np.isnan(around)]
    return bool(around.size) and float(around.mean()) > 0.5


def _found_in(one: TakeGround, span: Span, lag_s: float) -> tuple[int, int, tuple[str, ...]]:
    """Return how many faults and other findings lie inside a line, and their kinds.

    A fault elsewhere in the take counts nothing here; what holds for all of it counts everywhere.
    """
    faults, others, kinds = 0, 0, []
    shift_s = one.offset_s - lag_s
    for finding in one.file.findings:
        whole = finding.end_s - finding.start_s >= WHOLE_SHARE * one.file.duration_s
        inside = finding.start_s + shift_s < span.end_s and finding.end_s + shift_s > span.start_s
        if not (whole or inside):
            continue
        fault = finding.kind in FAULTS and not whole
        faults, others = faults + fault, others + (not fault)
        kinds.append(finding.kind)
    return faults, others, tuple(dict.fromkeys(kinds))


def _lateness(grounds: Sequence[TakeGround]) -> list[Late]:
    """Return for each take how much later its notes begin than most takes begin them."""
    if not grounds:
        return []
    first = max(grounds, key=lambda one: len(one.onsets_s))
    rows: list[dict[float, tuple[float, float]]] = []
    for one in grounds:
        laid = one.onsets_s
        if one.warp is not None and len(laid):
            lag = np.interp(laid, one.warp.at_s + one.warp.lag_s, one.warp.lag_s)
            laid = laid - np.where(np.abs(lag) > LAG_FROM_S, lag, 0.0)
        back = dict(zip(laid.tolist(), one.onsets_s.tolist(), strict=True))
        pairs = pairs_between(first.onsets_s, laid)
        rows.append({at: (back[there], there - at) for at, there in pairs})
    every = {at for row in rows for at in row}
    middle = {at: float(np.median([row[at][1] for row in rows if at in row])) for at in every}
    return [[(own, off - middle[at]) for at, (own, off) in sorted(row.items())] for row in rows]


def _cents(one: TakeGround) -> list[tuple[float, float, float]]:
    """Return (when, how far over the take's tuning in cents, how long) of each note; nothing without a tuning."""
    study = one.file.study
    if study is None or not study.notes:
        return []
    tuning = study.backing if study.backing is not None and study.backing.sure else tuning_of(study.notes)
    if tuning is None or not tuning.sure:
        return []
    return [
        (note.start_s + one.offset_s, off_cents(note, semitone_of(note, tuning), tuning), note.end_s - note.start_s)
        for note in study.notes
        if note.end_s - note.start_s >= LEAST_NOTE_S
    ]
