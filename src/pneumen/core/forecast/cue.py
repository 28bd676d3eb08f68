"""What is in the headphones while recording, how much of it reaches the microphone, and how long ears may bear it."""

import math
from dataclasses import dataclass
from typing import Final

from pneumen.core.delay import verdict_of_delay
from pneumen.core.errors import UnknownName, require_within
from pneumen.core.forecast.outcome import Outcome
from pneumen.core.levels import safe_hours
from pneumen.core.setup import SourceLevels
from pneumen.core.take import BLEED_WATCH_DB
from pneumen.core.verdict import Verdict, worst_of

CLOSED_CUPS_DB: Final = -27.5
ONE_EAR_OFF_DB: Final = -12.5
LEAK_AT_M: Final = 0.2
"""A closed cup at 80 dB leaves about 50 to 55 dB SPL at 20 cm, with one ear off 65 to 70 (estimates)."""
SAFE_ENOUGH_H: Final = 4.0
"""A session and its pauses (common practice, no source)."""
IN_THE_ROOM: Final = ("room-noise", "diffuse", "low-cut")
"""The steps of the room's noise that are its own, and not the chain's."""
OWN: Final = ("direct", "computer", "both", "none")
THROUGH_IT: Final = ("computer", "both")
"""The ways that bring one's own sound back through the computer."""
BACKINGS_DB: Final = (70.0, 80.0, 90.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class CueMix:
    """What is heard while recording: the backing's level at the ear (None: nothing plays), a click, one's own sound,
    one ear off or not. leak_db_spl is what of it was measured at the microphone; None before it was."""

    backing_db_spl: float | None = 80.0
    one_ear_off: bool = False
    click: bool = False
    own: str = "direct"
    leak_db_spl: float | None = None

    def __post_init__(self) -> None:
        if self.backing_db_spl is not None:
            require_within("backing_db_spl", self.backing_db_spl, 40, 110)
        if self.leak_db_spl is not None:
            require_within("leak_db_spl", self.leak_db_spl, -20, 110)
        if self.own not in OWN:
            raise UnknownName("own", self.own, OWN)


@dataclass(frozen=True, slots=True, kw_only=True)
class Cue:
    """What a mix does: the leak at the microphone and how far under the sound that is, one's own delay, safe hours.

    leak_db_spl, under_db and leak_dbfs (what the leak is in the file) are None for what is plugged in and where nothing
    plays, late_ms where one's own sound does not come back, safe_h where nothing plays.
    """

    leak_db_spl: float | None
    leak_dbfs: float | None
    under_db: float | None
    leak_verdict: Verdict
    late_ms: float | None
    late_verdict: Verdict
    safe_h: float | None
    safe_verdict: Verdict


def cue_of(found: Outcome, mix: CueMix) -> Cue:
    """Hold a cue mix against a part as it is set up. All estimates until a take with the backing measures the leak."""
    leak_db, leak_dbfs, under_db = _leak(found, mix)
    leak_verdict = Verdict.CLEAR
    if under_db is not None and -under_db >= BLEED_WATCH_DB:
        leak_verdict = Verdict.BAKED_IN if mix.click else Verdict.WATCH
    safe_h = None if mix.backing_db_spl is None else safe_hours(mix.backing_db_spl)
    late_ms = found.setup.round_trip_ms if mix.own in THROUGH_IT else None
    return Cue(
        leak_db_spl=leak_db,
        leak_dbfs=leak_dbfs,
        under_db=under_db,
        leak_verdict=leak_verdict,
        late_ms=late_ms,
        late_verdict=_late_verdict(late_ms, mix),
        safe_h=safe_h,
        safe_verdict=Verdict.CLEAR if safe_h is None or safe_h >= SAFE_ENOUGH_H else Verdict.WATCH,
    )


def _late_verdict(late_ms: float | None, mix: CueMix) -> Verdict:
    """Judge one's own sound through the computer; heard twice it combs, however quick it is."""
    if late_ms is None:
        return Verdict.CLEAR
    late = verdict_of_delay(late_ms)
    return worst_of([Verdict.WATCH, late]) if mix.own == "both" else late


def _leak(found: Outcome, mix: CueMix) -> tuple[float | None, float | None, float | None]:
    """Return the leak at the microphone in dB SPL, in the file in dBFS, and how far under the typical level it lies.

    In the file it is what a noise of the room so loud would be: the level diagram's own steps, but from one side.
    """
    levels = found.setup.performance.levels
    if found.air is None or mix.backing_db_spl is None or not isinstance(levels, SourceLevels):
        return None, None, None
    loss_db = ONE_EAR_OFF_DB if mix.one_ear_off else CLOSED_CUPS_DB
    estimate_db = mix.backing_db_spl + loss_db + 20 * math.log10(LEAK_AT_M / found.setup.placement.distance_m)
    leak_db = estimate_db if mix.leak_db_spl is None else mix.leak_db_spl
    leak_dbfs = leak_db + _onward_db(found)
    return leak_db, leak_dbfs, found.levels.typical_dbfs - leak_dbfs


def leak_at_microphone_db(found: Outcome, leak_dbfs: float) -> float | None:
    """Return how loud a leak is at the microphone that was measured in the file; None for what is plugged in."""
    return None if found.air is None else leak_dbfs - _onward_db(found)


def _onward_db(found: Outcome) -> float:
    """Return what takes a noise at the microphone into the file, but from one side."""
    return sum(step.value for step in found.levels.noise_steps["room"] if step.name not in IN_THE_ROOM)
