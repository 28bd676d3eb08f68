"""What a fault of a take comes from in this very setup, and what the model says a change would bring."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Final

from pneumen.core.forecast.outcome import Outcome, outcome
from pneumen.core.forecast.setup import PartSetup
from pneumen.core.place import LIMITS, OUT_OF_THE_AIR_DEG

NEARER: Final = 0.7
"""A step that brings 3 dB of direct sound."""
BACK_M: Final = 0.10
LEAST_DB: Final = 0.5


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One change: kind is screen, aside (degrees), nearer or back (metres), with the figure it leads to."""

    kind: str
    to: float
    value: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Mending:
    """What a kind of fault rests on as the part is set up: a figure, its calm limit, and what changes would make of it.

    By kind: plosive, the air of a P at the capsule, m/s; sibilance, an S against on the mouth's axis, dB; echo, the
    room's reverberation time, s, its steps the direct sound over the room's, dB, which stands as limit; noise, the
    noise's margin over its next part, dB, whose stage is told; clipping, the gain, dB, of the stage that clips first.
    """

    kind: str
    value: float | None
    limit: float | None
    stage: str = ""
    steps: tuple[Step, ...] = ()

    @property
    def is_calm(self) -> bool:
        """Whether the setup should not have this fault."""
        return self.value is not None and self.limit is not None and self.value <= self.limit


def mendings(found: Outcome) -> dict[str, Mending]:
    """Return by the kind of fault what the model says of a setup; none of those it knows nothing of."""
    told = {kind: tell(found) for kind, tell in _MENDINGS.items()}
    return {kind: one for kind, one in told.items() if one is not None}


def _plosive(found: Outcome) -> Mending | None:
    speed = _felt(found, "pops")
    if speed is None:
        return None
    setup, calm = found.setup, LIMITS["pops"].calm
    steps = [Step(kind="aside", to=aside, value=value) for aside, value in _aside(setup, "pops")]
    if not setup.placement.pop_screen:
        screened = _felt(outcome(setup.moved(pop_screen=True)), "pops")
        steps.insert(0, Step(kind="screen", to=setup.placement.screen_before_m, value=screened or 0.0))
    further_m = setup.placement.distance_m + BACK_M
    further = _felt(outcome(setup.moved(distance_m=further_m)), "pops")
    steps.append(Step(kind="back", to=further_m, value=further or 0.0))
    worth = tuple(step for step in steps if step.value < speed)
    return Mending(kind="plosive", value=speed, limit=calm, steps=worth if speed > calm else ())


def _sibilance(found: Outcome) -> Mending | None:
    harsh = _felt(found, "sibilance")
    if harsh is None:
        return None
    steps = tuple(Step(kind="aside", to=aside, value=value) for aside, value in _aside(found.setup, "sibilance"))
    return Mending(kind="sibilance", value=harsh, limit=None, steps=steps)


def _echo(found: Outcome) -> Mending | None:
    if found.air is None:
        return None
    nearer_m = NEARER * found.setup.placement.distance_m
    nearer = outcome(found.setup.moved(distance_m=nearer_m)).in_air
    worth = nearer.lead_db - found.air.lead_db >= LEAST_DB
    steps = (Step(kind="nearer", to=nearer_m, value=nearer.lead_db),) if worth else ()
    return Mending(kind="echo", value=found.air.rt60_s, limit=found.air.lead_db, steps=steps)


def _noise(found: Outcome) -> Mending:
    levels = found.levels
    others = [level for stage, level in levels.noise_by_stage_dbfs.items() if stage != levels.noise_set_by]
    over_db = levels.noise_by_stage_dbfs[levels.noise_set_by] - max(others) if others else None
    return Mending(kind="noise", value=over_db, limit=None, stage=levels.noise_set_by)


def _clipping(found: Outcome) -> Mending:
    return Mending(kind="clipping", value=found.gain_db, limit=None, stage=found.levels.clips_first)


def _felt(found: Outcome, name: str) -> float | None:
    return None if found.air is None else found.air.felt.get(name)


def _aside(setup: PartSetup, name: str) -> list[tuple[float, float]]:
    """Return (degrees, value) of the microphone beside the mouth, where it is not there yet."""
    if setup.placement.off_mouth_deg >= OUT_OF_THE_AIR_DEG - 1:
        return []
    side = -OUT_OF_THE_AIR_DEG if setup.placement.aside_deg < 0 else OUT_OF_THE_AIR_DEG
    value = _felt(outcome(replace(setup, placement=replace(setup.placement, aside_deg=side))), name)
    return [] if value is None else [(OUT_OF_THE_AIR_DEG, value)]


_MENDINGS: Final[Mapping[str, Callable[[Outcome], Mending | None]]] = {
    "plosive": _plosive,
    "sibilance": _sibilance,
    "echo": _echo,
    "noise": _noise,
    "clipping": _clipping,
}
