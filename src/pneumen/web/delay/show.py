"""What the Delay screen says: the journey, the buffer, what is to be expected of it, and the way round."""

from dataclasses import dataclass

from pneumen.core.delay import BAND_MS, BUFFERS, DelayPlan, comb_of, total_ms
from pneumen.core.forecast import Outcome
from pneumen.core.verdict import Verdict
from pneumen.web.delay.picture import JOURNEY_PAPERS, Journey, Lost, draw_journey, draw_lost
from pneumen.web.delay.plan import delay_of
from pneumen.web.drawing import those_seen
from pneumen.web.hookup.services import mix_of
from pneumen.web.part.models import Part
from pneumen.web.settle import outcome_of
from pneumen.wording import delay as words
from pneumen.wording.figures import figure, kilohertz
from pneumen.wording.formats import formats_told
from pneumen.wording.language import _


@dataclass(frozen=True, slots=True, kw_only=True)
class SeenTold:
    """What was seen at a buffer, so that it can be taken back."""

    number: int
    told: str


@dataclass(frozen=True, slots=True, kw_only=True)
class LoopTold:
    """What a measured way round tells."""

    lines: tuple[str, ...]
    through: str
    at: str


@dataclass(frozen=True, slots=True, kw_only=True)
class DelayScreen:
    """All the Delay screen shows; plan is None for a recorder."""

    plan: DelayPlan | None
    verdict: Verdict
    sentence: str
    journeys: tuple[Journey, ...]
    lost: Lost | None
    rows: tuple[tuple[str, str], ...]
    round_trip: str
    band: str
    worked_out: str
    chance: str
    rests_on: str
    tracking: str
    mixing: str
    origin: str
    share: float
    own: str
    borne: str
    comb: str
    seen: tuple[SeenTold, ...]
    loop: LoopTold | None
    formats: tuple[str, ...]


def delay_screen(part: Part, buffer: int | None = None) -> DelayScreen:
    """Return what the screen shows, perhaps with another buffer tried out."""
    plan, own, found = delay_of(part, buffer), mix_of(part).own, outcome_of(part)
    shared = {
        "verdict": _verdict(plan, own),
        "sentence": words.delay_sentence(plan, own),
        "own": own,
        "formats": formats_told(part.song.sample_rate_hz, found.levels.noise_dbfs),
    }
    if plan is None:
        return DelayScreen(**_nothing(), **shared)  # type: ignore[arg-type]
    return DelayScreen(
        plan=plan,
        journeys=tuple(draw_journey(plan, paper) for paper in those_seen(*JOURNEY_PAPERS)),
        lost=draw_lost(plan, part.song.computer, part.song.load),
        rows=tuple((words.SEGMENTS[one.name], f"{figure(one.ms, 1)} ms") for one in plan.way),
        round_trip=figure(plan.round_trip_ms, 1),
        band=figure(BAND_MS, 1),
        worked_out="" if plan.measured_ms is None else figure(total_ms(plan.way), 1),
        chance=words.chance_told(plan.chance),
        rests_on=words.SEEN if plan.chance.seen else words.GUESS,
        tracking=f"{plan.planned_buffer}",
        mixing=f"{plan.mixing_buffer}",
        share=_share(plan.buffer),
        origin="" if part.song.buffer is None else "yours",
        borne=words.borne_told(plan.round_trip_ms, part.source_facts.group),
        comb=words.comb_told(comb_of(plan.round_trip_ms)),
        seen=tuple(_seen_told(one.pk, one.buffer, one.crackled, one.minutes) for one in part.song.buffers_seen.all()),
        loop=_loop_told(part),
        **shared,  # type: ignore[arg-type]
    )


def _share(buffer: int) -> float:
    """Return where a buffer stands on its slider, in per cent."""
    return 100 * (min(max(buffer, BUFFERS[0]), BUFFERS[-1]) - BUFFERS[0]) / (BUFFERS[-1] - BUFFERS[0])


def _loop_told(part: Part) -> LoopTold | None:
    row = next(iter(part.song.loops.all()), None)
    if row is None:
        return None
    return LoopTold(
        lines=words.loop_told(row.to_core(), row.through, simulated=row.simulated),
        through=words.THROUGH[row.through],
        at=_("{buffer} samples, {sample_rate_hz}").format(
            buffer=row.buffer, sample_rate_hz=kilohertz(row.sample_rate_hz)
        ),
    )


def delay_verdict(part: Part, outcome: Outcome) -> Verdict:
    """Return how the delay of a part stands: hearing oneself, and what the buffer risks."""
    return _verdict(delay_of(part), mix_of(part).own)


def _verdict(plan: DelayPlan | None, own: str) -> Verdict:
    return Verdict.CLEAR if plan is None else plan.verdict_of(own)


def _seen_told(number: int, buffer: int, crackled: bool, minutes: float) -> SeenTold:
    what = _("it crackled") if crackled else _("it held for {minutes} minutes").format(minutes=figure(minutes))
    return SeenTold(number=number, told=_("{buffer} samples: {what}").format(buffer=buffer, what=what))


def _nothing() -> dict[str, object]:
    """What there is to show where there is no computer on the way."""
    empty = dict.fromkeys(
        ("round_trip", "band", "worked_out", "chance", "rests_on", "tracking", "mixing", "origin", "borne", "comb"), ""
    )
    return {**empty, "plan": None, "share": 0.0, "journeys": (), "lost": None, "rows": (), "seen": (), "loop": None}
