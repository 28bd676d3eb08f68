"""What is in the headphones while recording, how much of it reaches the microphone, and how long ears may bear it."""

import math
from dataclasses import dataclass
from typing import Final

from pneumen.core.delay import verdict_of_delay
from pneumen.core.errors import UnknownName, require_within
from pneumen.core.forecast.outcome import Outcome
from pneumen.core.levels import safe_hours
from pneumen.core.line import way_of
from pneumen.core.setup import SourceLevels
from pneumen.core.verdict import Verdict

CLOSED_CUPS_DB: Final = -27.5
ONE_EAR_OFF_DB: Final = -12.5
LEAK_AT_M: Final = 0.2
"""A closed cup at 80 dB leaves about 50 to 55 dB SPL at 20 cm, with one ear off 65 to 70 (estimates)."""
BLEED_DB: Final = 35.0
"""A leak less than so far under the sound is heard in soft passages (estimate)."""
SAFE_ENOUGH_H: Final = 4.0
"""A session and its pauses (common practice, no source)."""
OWN: Final = ("direct", "computer", "none")
BACKINGS_DB: Final = (70.0, 80.0, 90.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class CueMix:
    """What is heard while recording: the backing's level at the ear, a click, one's own sound, one ear off or not."""

    backing_db_spl: float = 80.0
    one_ear_off: bool = False
    click: bool = False
    own: str = "direct"

    def __post_init__(self) -> None:
        require_within("backing_db_spl", self.backing_db_spl, 40, 110)
        if self.own not in OWN:
            raise UnknownName("own", self.own, OWN)


@dataclass(frozen=True, slots=True, kw_only=True)
class Cue:
    """What a mix does: the leak at the microphone and how far under the sound that is, one's own delay, safe hours.

    leak_db_spl and under_db are None for what is plugged in, late_ms where one's own sound does not come back.
    """

    leak_db_spl: float | None
    under_db: float | None
    leak_verdict: Verdict
    late_ms: float | None
    late_verdict: Verdict
    safe_h: float
    safe_verdict: Verdict


def cue_of(found: Outcome, mix: CueMix) -> Cue:
    """Hold a cue mix against a part as it is set up. All estimates until a take with the backing measures the leak."""
    leak_db = under_db = None
    leak_verdict = Verdict.CLEAR
    levels = found.setup.performance.levels
    if found.air is not None and isinstance(levels, SourceLevels):
        loss_db = ONE_EAR_OFF_DB if mix.one_ear_off else CLOSED_CUPS_DB
        leak_db = mix.backing_db_spl + loss_db + 20 * math.log10(LEAK_AT_M / found.setup.placement.distance_m)
        peak_db = next(one.level for one in way_of(found.levels) if one.place == "capsule")
        under_db = peak_db - (levels.peak_db_spl - levels.typical_db_spl) - leak_db
        if under_db < BLEED_DB:
            leak_verdict = Verdict.BAKED_IN if mix.click else Verdict.WATCH
    safe_h = safe_hours(mix.backing_db_spl)
    late_ms = found.setup.round_trip_ms if mix.own == "computer" else None
    return Cue(
        leak_db_spl=leak_db,
        under_db=under_db,
        leak_verdict=leak_verdict,
        late_ms=late_ms,
        late_verdict=Verdict.CLEAR if late_ms is None else verdict_of_delay(late_ms),
        safe_h=safe_h,
        safe_verdict=Verdict.CLEAR if safe_h >= SAFE_ENOUGH_H else Verdict.WATCH,
    )
