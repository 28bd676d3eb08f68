"""Timing and tuning in words: measured, never graded."""

from typing import Final

from pneumen.core.performance import SpanTiming, Tightness, Timing, Tuning
from pneumen.wording.figures import figure
from pneumen.wording.language import _

GRIDS: Final = {
    1: _("beats"),
    2: _("half beats"),
    3: _("thirds of a beat"),
    4: _("quarter beats"),
    6: _("sixths of a beat"),
}
TIMING: Final = _("{count} sounds against the backing’s {grid}: {spread} ms of spread (standard deviation).")
NOT_SURE: Final = _("Its sounds gather on no grid of the backing’s {bpm} beats a minute: it is free, or another tempo.")
BEHIND: Final = _("On the mean {lag} ms behind the beat, ±{band}.")
AHEAD: Final = _("On the mean {lag} ms ahead of the beat, ±{band}.")
LAG_UNKNOWN: Final = _(
    "How far all of them lie behind or ahead is not told: that could as well be the recording’s own offset, which is "
    "not known here."
)
FALLS_BACK: Final = _("It falls back by {drift} ms a minute.")
RUNS_AHEAD: Final = _("It runs ahead by {drift} ms a minute.")
NO_TEMPO: Final = _("No tempo to hold it against: give the song a backing under Part, and record with it.")
BESIDE: Final = _("Beside take {number}: {count} sounds in common, {spread} ms apart (standard deviation).")
LEAST_BEHIND_MS: Final = 10.0
AS_THE_REST: Final = _("{section}: in time with the rest, {spread} ms of spread.")
DRAGS: Final = _("{section}: {off} ms behind the rest, {spread} ms of spread.")
RUSHES: Final = _("{section}: {off} ms ahead of the rest, {spread} ms of spread.")
TUNING: Final = _("Its notes gather about A = {a} Hz.")
TUNED_TO: Final = _("Held against the backing’s A = {a} Hz.")
NOTES: Final = _("Of {count} notes the middle half lies {low} to {high} cents from {what}.")
NEAREST: Final = _("the nearest semitone, which hides a wrong note: further takes of this passage tell more")
IN_KEY: Final = _("the nearest semitone; notes outside {key} are told, since no other take tells what was meant")
AGREED: Final = _("where most takes stand")
NO_TUNING: Final = _("Its notes gather about no tuning: nothing is told of single ones.")
ONE_AT_A_TIME: Final = _("Pitch is told only of what plays or sings one note at a time.")
MEASURED: Final = _("Measured, not graded: whether it moves anyone is yours to judge.")
LAG_BAND_MS: Final = 15.0
"""How far the moment a sound is heard at may lie from its steepest rise: slow attacks are heard later (estimate)."""
LEAST_DRIFT_MS: Final = 10.0
HIGHER: Final = _("{count} semitone{s} above what most takes hold")
LOWER: Final = _("{count} semitone{s} below what most takes hold")


def timing_told(timing: Timing | None, tempo_bpm: float | None) -> tuple[str, ...]:
    """Say how a take stands to the backing's beats."""
    if timing is None:
        return (NO_TEMPO,)
    if not timing.sure:
        return (NOT_SURE.format(bpm=figure(tempo_bpm)),)
    told = [TIMING.format(count=timing.count, grid=GRIDS[timing.division], spread=figure(timing.spread_ms))]
    if timing.lag_ms is None:
        told.append(LAG_UNKNOWN)
    else:
        lag = BEHIND if timing.lag_ms > 0 else AHEAD
        told.append(lag.format(lag=figure(abs(timing.lag_ms)), band=figure(LAG_BAND_MS)))
    if abs(timing.drift_ms_per_min) >= LEAST_DRIFT_MS:
        drift = FALLS_BACK if timing.drift_ms_per_min > 0 else RUNS_AHEAD
        told.append(drift.format(drift=figure(abs(timing.drift_ms_per_min))))
    return tuple(told)


def beside_told(number: int, tightness: Tightness) -> str:
    """Say how alike two takes of one passage are in time."""
    return BESIDE.format(number=number, count=tightness.count, spread=figure(tightness.spread_ms))


def tuning_told(tuning: Tuning | None, *, by_backing: bool) -> str:
    """Say what the notes are held against."""
    if tuning is None:
        return NO_TUNING
    return (TUNED_TO if by_backing else TUNING).format(a=figure(tuning.a_hz, 1))


def notes_told(count: int, low_cents: float, high_cents: float, *, agreed: bool, key: str = "") -> str:
    """Say where the middle half of the notes lies.

    Args:
        agreed: other takes tell which note was meant; key: else the song's key does.
    """
    what = AGREED if agreed else IN_KEY.format(key=key) if key else NEAREST
    return NOTES.format(count=count, low=figure(low_cents, sign=True), high=figure(high_cents, sign=True), what=what)


def section_told(name: str, one: SpanTiming) -> str:
    """Say how a section stands in time beside the whole take."""
    spread = figure(one.spread_ms)
    if abs(one.behind_ms) < LEAST_BEHIND_MS:
        return AS_THE_REST.format(section=name, spread=spread)
    told = DRAGS if one.behind_ms > 0 else RUSHES
    return told.format(section=name, off=figure(abs(one.behind_ms)), spread=spread)


def off_told(cents: float, wrong_by: int) -> str:
    """Say how far one note lies from what was meant."""
    if not wrong_by:
        return f"{figure(cents, sign=True)} cents"
    told = HIGHER if wrong_by > 0 else LOWER
    return told.format(count=abs(wrong_by), s="" if abs(wrong_by) == 1 else "s")
