"""What a fault of a take comes from in this very setup, and what the model says a change would bring."""

from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Final

from pneumen.core.delay import DelayPlan
from pneumen.core.forecast.cue import BACKINGS_DB, CueMix, cue_of
from pneumen.core.forecast.outcome import Outcome, outcome
from pneumen.core.forecast.setup import PartSetup
from pneumen.core.hookup import Fault
from pneumen.core.place import LIMITS, OUT_OF_THE_AIR_DEG

NEARER: Final = 0.7
"""A step that brings 3 dB of direct sound."""
BACK_M: Final = 0.10
LEAST_DB: Final = 0.5
GROUND_LOOP: Final = "ground-loop"


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One change with the figure it leads to.

    kind is screen (metres before the microphone), aside (degrees), nearer or back (metres), both-ears (nothing),
    softer (dB SPL at the ear) or buffer (samples).
    """

    kind: str
    to: float
    value: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Mending:
    """What a kind of fault rests on as the part is set up: a figure, its calm limit, and what changes would make of it.

    By kind: plosive, the air of a P at the capsule, m/s; sibilance, an S against on the mouth's axis, dB; echo, the
    room's reverberation time, s, its steps the direct sound over the room's, dB, which stands as limit; noise, the
    noise's margin over its next part, dB, whose stage is told; clipping, the gain, dB, of the stage that clips first;
    bleed, how far the headphones' leak lies under the sound, dB; dropout, the buffer, samples; hum, the ground loop
    as fault.
    """

    kind: str
    value: float | None
    limit: float | None
    stage: str = ""
    steps: tuple[Step, ...] = ()
    fault: Fault | None = None

    @property
    def is_calm(self) -> bool:
        """Whether the setup should not have this fault."""
        return self.value is not None and self.limit is not None and self.value <= self.limit


def mendings(
    found: Outcome, mix: CueMix, *, faults: Iterable[Fault] = (), delay: DelayPlan | None = None
) -> dict[str, Mending]:
    """Return by the kind of fault what the model says of a setup; none of those it knows nothing of.

    Args:
        mix: what is in the headphones.
        faults: of the chain as it is connected.
        delay: the buffer and what is to be expected of it; None where no computer records.
    """
    told = {kind: tell(found) for kind, tell in _MENDINGS.items()} | {
        "bleed": _bleed(found, mix),
        "hum": _hum(faults),
        "dropout": None if delay is None else _dropout(delay),
    }
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


def _bleed(found: Outcome, mix: CueMix) -> Mending | None:
    under_db = cue_of(found, mix).under_db
    if under_db is None:
        return None
    steps = []
    for kind, to, changed in _quieter(mix):
        then_db = cue_of(found, changed).under_db
        if then_db is not None and then_db > under_db + LEAST_DB:
            steps.append(Step(kind=kind, to=to, value=then_db))
    return Mending(kind="bleed", value=under_db, limit=None, steps=tuple(steps))


def _hum(faults: Iterable[Fault]) -> Mending | None:
    loop = next((one for one in faults if one.code == GROUND_LOOP), None)
    return None if loop is None else Mending(kind="hum", value=None, limit=None, fault=loop)


def _dropout(delay: DelayPlan) -> Mending:
    larger = delay.planned_buffer > delay.buffer
    steps = (Step(kind="buffer", to=delay.planned_buffer, value=delay.planned_buffer),) if larger else ()
    return Mending(kind="dropout", value=delay.buffer, limit=None, steps=steps)


def _quieter(mix: CueMix) -> Iterator[tuple[str, float, CueMix]]:
    """Yield mixes that leak less; what was measured of the leak holds for the mix as it was."""
    estimated = replace(mix, leak_db_spl=None)
    if mix.one_ear_off:
        yield "both-ears", 0.0, replace(estimated, one_ear_off=False)
    softer = [db for db in BACKINGS_DB if mix.backing_db_spl is not None and db < mix.backing_db_spl]
    if softer:
        yield "softer", softer[-1], replace(estimated, backing_db_spl=softer[-1])


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
