"""What the page shows of an input it listens at."""

from dataclasses import dataclass

from pneumen.core.gain import School, school_named
from pneumen.core.live import LISTENING, RECORDING, word_of
from pneumen.core.verdict import Verdict
from pneumen.web.drawing import those_seen
from pneumen.web.live.desk import LINE, Listening
from pneumen.web.live.picture import PAPERS, Breath, draw_breath
from pneumen.wording.figures import figure
from pneumen.wording.live import KEYS, LINE_TOLD, PHASES, altered_told, live_told, over_told, word_told
from pneumen.wording.minute import SHORT, prompt_told

SILENCE_DBFS = -120.0


@dataclass(frozen=True, slots=True, kw_only=True)
class LiveScreen:
    """One moment of it: a word, a number, a picture, what is being done and what the key does next."""

    phase: str
    phase_told: str
    key_told: str
    word: str
    number: str
    told: str
    verdict: Verdict
    seconds: str
    breaths: tuple[Breath, ...]
    takes: tuple[int, ...]
    altered: str
    over: str
    answer: str
    check_id: int | None
    lost: int
    school: School


def live_screen(one: Listening) -> LiveScreen:
    """Return what is shown of an input at this moment."""
    state, school = one.heard, school_named(one.school)
    found = word_of(state, school)
    phase = state.phase if state.phase in PHASES else LISTENING
    return LiveScreen(
        phase=phase,
        phase_told=LINE_TOLD if one.purpose == LINE else PHASES[phase],
        key_told=KEYS[phase],
        word=SHORT[one.guide.step] if one.guide and one.guide.step else word_told(found, one.set_by),
        number=figure(found.number_dbfs) if found.number_dbfs > SILENCE_DBFS else "–",
        told=prompt_told(one.guide.step) if one.guide else live_told(found),
        verdict=Verdict.OPEN if one.guide and found.word != "clips" else found.verdict,
        seconds=f"{int(state.kept_s) // 60}:{int(state.kept_s) % 60:02d}" if phase == RECORDING else "",
        breaths=tuple(draw_breath(state, school, one.planned_dbfs, paper) for paper in those_seen(*PAPERS)),
        takes=tuple(one.takes),
        altered=altered_told(one.origin.processing, one.origin.hidden),
        over=over_told(state.over, phase),
        answer=one.answer,
        check_id=one.check_id,
        lost=one.stream.lost,
        school=school,
    )
