"""Where two phrases meet: how long and by which law they cross, where that is least heard, and how smooth it is."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.levels import LOWEST_DB, ratio_to_db
from pneumen.core.take import ACTIVE_WITHIN_DB, LaidTake, active_level_dbfs

LINEAR, EQUAL_POWER = LAWS = ("linear", "equal-power")
ALIKE: Final = 0.5
"""Takes that correlate more than that add as voltages, others as powers."""
SIDE_S: Final = 0.4
STEP_DB: Final = 3.0
"""A step beyond it is heard (common practice, no source)."""
SOUNDING_DB: Final = 15.0
AT_SEAM_S: Final = 0.03
GRID_S: Final = 0.002
NEAR_S: Final = 0.6
APART_S: Final = 0.1
WORTH_DB: Final = 6.0
MOST_PLACES: Final = 3
FLOOR_FRAME_S: Final = 0.02
FLOOR_NEAR_S: Final = 0.15
AS_GOOD_DB: Final = 3.0
"""So much more at a seam makes no difference: then what lies just before an attack, or nearer, is taken."""
LEVEL_STEP: Final = "level-step"
SMOOTH_WHY: Final = ("same-take", "alike", "before-attack", "pause")

Span = tuple[int, int]


@dataclass(frozen=True, slots=True, kw_only=True)
class Side:
    """One take at a seam, with the gain it is heard at."""

    name: str
    source: LaidTake
    gain: float

    def stretch(self, first: int, stop: int) -> np.ndarray:
        return self.source.stretch(first, stop) * self.gain


@dataclass(frozen=True, slots=True, kw_only=True)
class Crossing:
    """A crossfade: so many samples round the one where the takes change, by a law."""

    at: int
    samples: int
    law: str

    @property
    def first(self) -> int:
        return self.at - self.samples // 2

    @property
    def stop(self) -> int:
        return self.first + self.samples

    def fade_in(self) -> np.ndarray:
        """Return the gain of the later take over the crossfade, shape (samples,)."""
        share = (np.arange(self.samples) + 0.5) / max(self.samples, 1)
        return share if self.law == LINEAR else np.sin(share * np.pi / 2)


@dataclass(frozen=True, slots=True, kw_only=True)
class Place:
    """A place for a seam: when, and how much less is heard of it than where the seam is."""

    at_s: float
    less_db: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Seam:
    """How a seam turned out; why is a key of the reasons that are worded elsewhere."""

    at_s: float
    from_take: str
    to_take: str
    law: str
    crossfade_ms: float
    moved_ms: float
    step_db: float | None
    smooth: bool
    why: str
    level_db: float | None = None
    """How loud both takes are at the seam, the softer of them, beside the louder neighbour; None in silence."""
    own_steps_db: tuple[float | None, float | None] = (None, None)
    """The step of the same join inside either take alone."""
    floor_step_db: float | None = None
    """In a pause: how much louder its quietest moments are in the later take: room and noise change with it."""
    better: tuple[Place, ...] = ()
    """Places near by where less would be heard, the best first."""

    @property
    def steps_by_itself(self) -> bool:
        """Whether its level steps no farther than the same join does inside one of its takes, give or take STEP_DB."""
        if self.step_db is None:
            return False
        return any(own is not None and abs(self.step_db - own) <= STEP_DB for own in self.own_steps_db)

    @property
    def heard(self) -> bool:
        """Whether the change of takes is heard: a step in level that a take has there by itself belongs to the song."""
        return not self.smooth and not (self.why == LEVEL_STEP and self.steps_by_itself)


def correlation(one: np.ndarray, other: np.ndarray) -> float:
    """Return how alike two stretches are as waves, -1 to 1; 0 where one of them is silent."""
    mono, against = (each.mean(axis=0) - each.mean() for each in (one, other))
    power = float(np.dot(mono, mono)) * float(np.dot(against, against))
    return float(np.dot(mono, against)) / power**0.5 if power > 0 else 0.0


def crossing_at(at: int, one: Side, other: Side, *, wanted: int, longest: int) -> Crossing:
    """Return the crossfade at a sample.

    Args:
        wanted: its samples; longest: half the shorter phrase. It shrinks to that, and to what both takes hold.
    """
    held = 2 * max(0, min(one.source.stop - at, at - other.source.first))
    # A take must hold the other's half too, or it was silent in its own phrase already.
    samples = min(wanted, longest, held) if one.source.first < at < other.source.stop else 0
    if one.name == other.name:
        return Crossing(at=at, samples=samples, law=LINEAR)
    around = max(samples, 2)
    first = at - around // 2
    alike = correlation(one.stretch(first, first + around), other.stretch(first, first + around))
    return Crossing(at=at, samples=samples, law=LINEAR if alike > ALIKE else EQUAL_POWER)


def quietest_at(
    at: int, one: Side, other: Side, *, reach: int, samples: int, first: int, stop: int, rate_hz: int
) -> int:
    """Return where between two samples a change of takes is least heard, no farther than reach from where it was.

    What is heard of it is the difference of both takes under the crossfade. Where it was is kept if nothing nearby is
    better by more than AS_GOOD_DB; of places as good the last of a pause wins, just before what comes next begins.

    Args:
        samples: the length of the crossfade.
        first, stop: the seam stays between.
    """
    low, high = max(at - reach, first), min(at + reach, stop)
    if high <= low:
        return at
    heard = audible_db(one, other, low=low, high=high, samples=samples)
    best = float(heard.min())
    now = heard[at - low] if low <= at <= high else np.inf
    if now <= best + AS_GOOD_DB:
        return at
    step = max(1, round(GRID_S * rate_hz))
    good = np.flatnonzero(heard <= best + AS_GOOD_DB)
    run = int(heard.argmin())
    later = good[good >= run]
    breaks = np.flatnonzero(np.diff(later) > step)
    return low + int(later[breaks[0]] if breaks.size else later[-1])


def audible_db(one: Side, other: Side, *, low: int, high: int, samples: int) -> np.ndarray:
    """Return for each seam from low to high how loud the difference of both takes is under it, in dBFS."""
    half = max(samples, 2) // 2
    difference = one.stretch(low - half, high + half + 1).mean(axis=0) - other.stretch(
        low - half, high + half + 1
    ).mean(axis=0)
    energy = np.cumsum(np.concatenate([[0.0], np.square(difference)]))
    power = (energy[2 * half :] - energy[: -2 * half])[: high - low + 1] / (2 * half)
    return np.asarray(10 * np.log10(np.maximum(power, 10 ** (LOWEST_DB / 10))))


def judged(
    crossing: Crossing, one: Side, other: Side, out: np.ndarray, phrases: tuple[Span, Span], rate_hz: int, moved: int
) -> Seam:
    """Return how a seam turned out.

    Args:
        out: the joined takes, shape (channels, N).
        phrases: first sample and one after the last of both phrases; a side that is a pause of its own has no level.
    """
    side = round(SIDE_S * rate_hz)
    before, pauses_before = _side_level(out, (max(0, crossing.first - side), crossing.first), phrases[0], rate_hz)
    after, pauses_after = _side_level(out, (crossing.stop, crossing.stop + side), phrases[1], rate_hz)
    # From a pause to a sound is no step in level, but from one pause to another is.
    step_db = None
    if before is not None and after is not None and pauses_before == pauses_after:
        step_db = after - before
    before, after = (None if pauses_before else before), (None if pauses_after else after)
    width, at = max(1, round(AT_SEAM_S * rate_hz)), crossing.at
    levels = (_level(one.stretch(at - width, at)), _level(other.stretch(at, at + width)))
    louder = max((level for level in (before, after) if level is not None), default=None)
    at_seam_db = min(*levels) - louder if louder is not None else None
    why = _why(crossing, one, other, step_db, at_seam_db, levels, after)
    return Seam(
        at_s=at / rate_hz,
        from_take=one.name,
        to_take=other.name,
        law=crossing.law,
        crossfade_ms=1000 * crossing.samples / rate_hz,
        moved_ms=1000 * moved / rate_hz,
        step_db=step_db,
        smooth=why in SMOOTH_WHY,
        why=why,
        level_db=at_seam_db,
        own_steps_db=(_own_step(one, crossing, side, rate_hz), _own_step(other, crossing, side, rate_hz)),
        floor_step_db=_floor_step(one, other, at, rate_hz) if at_seam_db is None or at_seam_db < -SOUNDING_DB else None,
        better=_better(crossing, one, other, phrases, rate_hz),
    )


def _own_step(side_of: Side, crossing: Crossing, length: int, rate_hz: int) -> float | None:
    before = active_level_dbfs(side_of.stretch(crossing.first - length, crossing.first), rate_hz)
    after = active_level_dbfs(side_of.stretch(crossing.stop, crossing.stop + length), rate_hz)
    return None if before is None or after is None else after - before


def _floor_step(one: Side, other: Side, at: int, rate_hz: int) -> float | None:
    """Return how much louder the quietest moments round a seam are in the later take; None in digital silence."""
    reach, frame = round(FLOOR_NEAR_S * rate_hz), max(1, round(FLOOR_FRAME_S * rate_hz))
    floors = []
    for side in (one, other):
        piece = side.stretch(at - reach, at + reach)
        whole = piece.shape[1] // frame
        power = np.square(piece[:, : whole * frame]).reshape(len(piece), whole, frame).mean(axis=2).max(axis=0)
        floor = float(np.quantile(power, 0.1))
        if floor <= 0:
            return None
        floors.append(10 * np.log10(floor))
    return float(floors[1] - floors[0])


def _better(crossing: Crossing, one: Side, other: Side, phrases: tuple[Span, Span], rate_hz: int) -> tuple[Place, ...]:
    """Return up to three places near by where plainly less would be heard of the seam."""
    if one.name == other.name or not crossing.samples:
        return ()
    reach, margin = round(NEAR_S * rate_hz), 2 * crossing.samples
    low = max(crossing.at - reach, phrases[0][0] + margin, other.source.first + margin)
    high = min(crossing.at + reach, phrases[1][1] - margin, one.source.stop - margin)
    if not low < crossing.at < high:
        return ()
    heard = audible_db(one, other, low=low, high=high, samples=crossing.samples)
    now, apart = float(heard[crossing.at - low]), round(APART_S * rate_hz)
    found: list[Place] = []
    left = heard.copy()
    while len(found) < MOST_PLACES:
        place = int(left.argmin())
        if now - left[place] < WORTH_DB:
            break
        found.append(Place(at_s=(low + place) / rate_hz, less_db=now - float(left[place])))
        left[max(0, place - apart) : place + apart + 1] = np.inf
    return tuple(found)


def _side_level(out: np.ndarray, span: Span, phrase: Span, rate_hz: int) -> tuple[float | None, bool]:
    """Return the active RMS of one side of a seam, None in silence, and whether it is a mere pause of its phrase."""
    level = active_level_dbfs(out[:, span[0] : span[1]], rate_hz)
    whole = active_level_dbfs(out[:, phrase[0] : phrase[1]], rate_hz)
    return level, level is None or whole is None or level < whole - ACTIVE_WITHIN_DB


def _why(
    crossing: Crossing,
    one: Side,
    other: Side,
    step_db: float | None,
    at_seam_db: float | None,
    levels: tuple[float, float],
    after: float | None,
) -> str:
    """Return what decides whether a seam is smooth.

    Args:
        levels: right before and right behind it; after: of what follows, None where that is a pause.
    """
    sounding = at_seam_db is not None and at_seam_db > -SOUNDING_DB
    if sounding and crossing.law == EQUAL_POWER:
        return "cuts-a-note"
    if step_db is not None and abs(step_db) > STEP_DB:
        return LEVEL_STEP
    if sounding:
        return "same-take" if one.name == other.name else "alike"
    before, begins = levels
    attacks = after is not None and begins > after - SOUNDING_DB and begins > before + SOUNDING_DB
    return "before-attack" if attacks else "pause"


def _level(samples: np.ndarray) -> float:
    """Return the RMS of a stretch in dBFS, of its louder channel."""
    return ratio_to_db(float(np.square(samples).mean(axis=1).max()) ** 0.5) if samples.size else LOWEST_DB
