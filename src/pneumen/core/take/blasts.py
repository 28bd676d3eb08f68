"""Blasts of air and knocks: short bursts of the low band that belong to no note.

A pop (plosive) comes with a word, a thump without one. Both are single swings under 120 Hz that are gone within a
tenth of a second or two; a low note, a kick drum or a bass stays longer or brings its overtones with it.
"""

from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.take.frames import Frames, joined_runs

NEAR_S: Final = 2.5
"""The neighbouring low band is that of so much time on either side."""
APART_S: Final = 0.15
USUAL_PERCENT: Final = 80
LONGEST_S: Final = 0.2
FALLEN_DB: Final = 10.0
RISEN_DB: Final = 20.0
"""A blast is told from where it has risen to so far under its top."""
LATE_S: Final = 0.012
"""So much the low band's filter lags."""
OVER_BODY_DB: Final = 6.0
"""Between 60 and 120 Hz notes have their ground: there a blast is stronger than the octaves over it."""
WORD_S: Final = 0.09
SOUNDING_UNDER_DB: Final = 22.0
"""What lies within so much of its active level, so near to a blast, is a word or note about it."""
POP_OVER_DB, THUMP_OVER_DB = 24.0, 12.0
"""Over the neighbouring low band; a word's own beginning stirs it, silence does not."""
POP_UNDER_DB, THUMP_UNDER_DB = 9.0, 24.0
"""What lies further under the take's active level is not heard as a blow (estimate)."""
POP_OVER_VOICE_DB, THUMP_OVER_VOICE_DB = -12.0, 8.0
"""Over what sounds above it at the same moment."""
BARE_DB, REST_MORE_DB, LEAST_REST_S = 12.0, 6.0, 0.5
"""In rests a thump stands so much farther out, and over the octaves above it."""
REST_AWAY_S: Final = 0.10
"""So far from what sounds a rest begins and ends: a word's own low end reaches into it."""
SPILL: Final = 3
"""The low band answers so many frames later or longer than the others."""
LOW_SHARE_DB: Final = -9.0
"""Where the low band carries so much of all that sounds, it is a bass or a drum: its strokes cannot be told apart."""
ONE_S: Final = 0.25
MOST: Final = 500
AT_ONCE: Final = 2000
"""So many neighbourhoods lie in memory at once."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Blast:
    """One burst: where it begins and ends, how far over the neighbouring low band, and whether a word is about it."""

    start_s: float
    end_s: float
    over_db: float
    in_word: bool


def is_low_source(frames: Frames) -> bool:
    """Return whether what is played lies so low that blasts cannot be told from its strokes."""
    low, rest = frames.low.sum(axis=0), frames.band(120.0, 4000.0)
    if not low.size:
        return False
    whole = low + rest
    active = whole > whole.max() * 10**-2.5
    loud = np.sort(low[active])[: max(1, int(0.9 * active.sum()))]  # a few blasts do not make a bass
    return 10 * np.log10(max(float(loud.mean()), 1e-20) / float(whole[active].mean())) > LOW_SHARE_DB


def blasts_in(frames: Frames, *, words: bool = False) -> list[Blast]:
    """Return the blasts of a take in order of time; none where its source lies low.

    Args:
        words: whether words are spoken or sung: the deepest voice leaves the lowest band free, a bass does not.
    """
    low_source = is_low_source(frames)
    if frames.low.shape[1] < 10 or (low_source and not words):
        return []
    bands = 1 if low_source else 2
    voice, body, whole = frames.band(250.0, 4000.0), frames.band(120.0, 500.0), frames.band(120.0, 10_000.0)
    active, sounding = _active(voice), _active(whole) * 10 ** (-SOUNDING_UNDER_DB / 10)
    both, word = frames.low[:bands].astype(float).sum(axis=0), round(WORD_S / frames.step_s)
    rests = np.convolve(whole > sounding, np.ones(2 * round(REST_AWAY_S / frames.step_s) + 1), "same") < 0.5
    found: list[Blast] = []
    for low, least in zip(frames.low[:bands], (body * 0, body * 10 ** (OVER_BODY_DB / 10)), strict=False):
        beside = low / np.maximum(_neighbours(low, frames.step_s), 1e-16)
        over = np.maximum(beside, _over_rests(low, body, rests, frames.step_s))
        strong = (over > 10 ** (THUMP_OVER_DB / 10)) & (both > active * 10 ** (-THUMP_UNDER_DB / 10)) & (low > least)
        for first, last in joined_runs(np.flatnonzero(strong), round(ONE_S / frames.step_s)):
            top = first + int(low[first:last].argmax())
            begin, end = _span(low, top)
            in_word = (whole[max(0, begin - word) : end + word] > sounding).sum() >= word // 2
            blast = Blast(
                start_s=max(0.0, frames.at_s(_rise(low, top)) - LATE_S),
                end_s=frames.at_s(end),
                over_db=float(10 * np.log10((beside if in_word else over)[top])),
                in_word=bool(in_word),
            )
            strength = both[begin:end].max()
            under_db = 10 * np.log10(active / strength)
            over_voice_db = 10 * np.log10(
                strength / max(float(voice[max(0, begin - SPILL) : end + SPILL].max()), 1e-20)
            )
            if (end - begin) * frames.step_s <= LONGEST_S and _counts(blast, under_db, over_voice_db):
                found.append(blast)
    return _one_each(found)[:MOST]


def _active(power: np.ndarray) -> float:
    return float(power[power > power.max() * 10**-2.5].mean())


def _counts(blast: Blast, under_db: float, over_voice_db: float) -> bool:
    if blast.in_word:
        return blast.over_db >= POP_OVER_DB and under_db <= POP_UNDER_DB and over_voice_db >= POP_OVER_VOICE_DB
    return over_voice_db >= THUMP_OVER_VOICE_DB


def _one_each(found: list[Blast]) -> list[Blast]:
    """Return the strongest of what both bands show at once."""
    kept: list[Blast] = []
    for blast in sorted(found, key=lambda each: each.start_s):
        if kept and blast.start_s < kept[-1].end_s:
            kept[-1] = max(kept[-1], blast, key=lambda each: each.over_db)
        else:
            kept.append(blast)
    return kept


def _neighbours(low: np.ndarray, step_s: float) -> np.ndarray:
    """Return for each frame what the low band usually is about it, the frame's own surroundings left out."""
    near, apart = min(round(NEAR_S / step_s), len(low) - 1), round(APART_S / step_s)
    around = np.lib.stride_tricks.sliding_window_view(np.pad(low, near, "reflect"), 2 * near + 1)
    centres = np.arange(0, len(low), max(1, apart // 2))
    sides = np.concatenate([np.arange(max(1, near - apart)), np.arange(min(near + apart, 2 * near), 2 * near + 1)])
    rank = int(USUAL_PERCENT / 100 * (len(sides) - 1))
    usual = [
        np.partition(around[some][:, sides], rank, axis=1)[:, rank].copy()  # a view would keep the whole in memory
        for some in np.array_split(centres, 1 + len(centres) // AT_ONCE)
    ]
    return np.asarray(np.interp(np.arange(len(low)), centres, np.concatenate(usual)))


def _over_rests(low: np.ndarray, body: np.ndarray, rests: np.ndarray, step_s: float) -> np.ndarray:
    """Return how far the low band of rests lies over the rests about it; nothing where something sounds.

    A phrase near by has a low band of its own, which says nothing of the silence before it. What brings the octaves
    over it along is no knock.
    """
    found, near = np.zeros(len(low)), max(1, round(NEAR_S / step_s))
    places = np.flatnonzero(rests)
    if len(places) * step_s < LEAST_REST_S:
        return found
    quiet = low[places]
    usual = _neighbours(quiet, step_s) if len(quiet) > near else np.quantile(quiet, USUAL_PERCENT / 100)
    over = quiet / np.maximum(usual, 1e-16)
    bare = quiet > body[places] * 10 ** (BARE_DB / 10)
    found[places] = np.where(bare, over * 10 ** (-REST_MORE_DB / 10), 0.0)
    return found


def _span(low: np.ndarray, top: int) -> tuple[int, int]:
    """Return the frames round a top that lie within FALLEN_DB of it."""
    limit = low[top] * 10 ** (-FALLEN_DB / 10)
    begin, end = top, top + 1
    while begin > 0 and low[begin - 1] > limit:
        begin -= 1
    while end < len(low) and low[end] > limit:
        end += 1
    return begin, end


def _rise(low: np.ndarray, top: int) -> int:
    """Return the frame at which a blast begins."""
    limit, first = low[top] * 10 ** (-RISEN_DB / 10), top
    while first > 0 and low[first - 1] > limit:
        first -= 1
    return first
