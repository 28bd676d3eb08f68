"""The card of the headphones: what is in them, what of it reaches the microphone, what ears bear."""

from dataclasses import dataclass
from typing import Any, Final

from pneumen.core.forecast import BACKINGS_DB, OWN, Cue, CueMix, Outcome, cue_of
from pneumen.core.verdict import Verdict
from pneumen.web.fields import CheckField, PickField, StepForm
from pneumen.web.hookup.services import mix_of
from pneumen.web.part.models import Part
from pneumen.wording.chain import BACKINGS, OWN_WAYS
from pneumen.wording.figures import figure


class CueForm(StepForm):
    """What is in the headphones."""

    problem_id = "cue-problem"
    backing = PickField("Backing at the ear", {f"{db:g}": told for db, told in zip(BACKINGS_DB, BACKINGS, strict=True)})
    own = PickField("Your own sound", dict(zip(OWN, OWN_WAYS, strict=True)))
    one_ear_off = CheckField("one ear off")
    click = CheckField("a click")


SAFE_ENOUGH_H: Final = 4.0
"""A session and its pauses (common practice, no source)."""
DAY_H: Final = 24.0


@dataclass(frozen=True, slots=True, kw_only=True)
class CueScreen:
    """The card: its form, and each finding with its verdict."""

    form: CueForm
    told: tuple[tuple[Verdict, str], ...]


def cue_screen(part: Part, found: Outcome) -> CueScreen:
    """Return what the card shows."""
    mix = mix_of(part)
    shown = {"backing": f"{mix.backing_db_spl:g}", "own": mix.own, "one_ear_off": mix.one_ear_off, "click": mix.click}
    return CueScreen(form=CueForm(shown=shown), told=_told(cue_of(found, mix), mix))


def mix_from(mix: CueMix, changes: dict[str, Any]) -> CueMix:
    """Return a mix after changes.

    Raises:
        PneumenError: for a level or a way that cannot be.
    """
    levels = {f"{one:g}": one for one in BACKINGS_DB}
    return CueMix(
        backing_db_spl=levels.get(str(changes.get("backing")), mix.backing_db_spl),
        one_ear_off=changes.get("one_ear_off", mix.one_ear_off),
        click=changes.get("click", mix.click),
        own=changes.get("own", mix.own),
    )


def _told(cue: Cue, mix: CueMix) -> tuple[tuple[Verdict, str], ...]:
    told = []
    if cue.leak_db_spl is not None and cue.under_db is not None:
        leak = f"About {figure(cue.leak_db_spl)} dB SPL of it reach the microphone, {figure(cue.under_db)} dB under you"
        more = "" if cue.leak_verdict == Verdict.CLEAR else ": seal the cup against the head, or turn it down"
        told.append((cue.leak_verdict, f"{leak}{more}."))
    if cue.late_ms is not None:
        late = f"Your own sound comes {figure(cue.late_ms)} ms late"
        comb = "it is coloured by your own bones" if cue.late_verdict == Verdict.CLEAR else "listen directly instead"
        told.append((cue.late_verdict, f"{late}: {comb}."))
    hours = "all day" if cue.safe_h >= DAY_H else f"for {figure(cue.safe_h, 1 if cue.safe_h < 10 else 0)} hours a day"
    safe = Verdict.CLEAR if cue.safe_h >= SAFE_ENOUGH_H else Verdict.WATCH
    told.append((safe, f"{figure(mix.backing_db_spl)} dB at the ear are safe {hours} (NIOSH, 1998)."))
    return tuple(told)
