"""The card of the headphones: what is in them, what of it reaches the microphone, what ears bear."""

from dataclasses import dataclass
from typing import Any

from pneumen.core.forecast import BACKINGS_DB, OWN, CueMix, Outcome, cue_of
from pneumen.core.verdict import Verdict
from pneumen.web.fields import CheckField, PickField, StepForm
from pneumen.web.hookup.services import mix_of
from pneumen.web.part.models import Part
from pneumen.wording.language import _
from pneumen.wording.listening import BACKINGS, NOTHING_PLAYS, OWN_WAYS, cue_told

NOTHING = "none"


class CueForm(StepForm):
    """What is in the headphones."""

    problem_id = "cue-problem"
    backing = PickField(
        _("Backing at the ear"),
        {NOTHING: NOTHING_PLAYS} | {f"{db:g}": told for db, told in zip(BACKINGS_DB, BACKINGS, strict=True)},
    )
    own = PickField(_("Your own sound"), dict(zip(OWN, OWN_WAYS, strict=True)))
    one_ear_off = CheckField(_("one ear off"))
    click = CheckField("a click")


@dataclass(frozen=True, slots=True, kw_only=True)
class CueScreen:
    """The card: its form, and each finding with its verdict."""

    form: CueForm
    told: tuple[tuple[Verdict, str], ...]
    is_measured: bool


def cue_screen(part: Part, found: Outcome) -> CueScreen:
    """Return what the card shows."""
    mix = mix_of(part)
    backing = NOTHING if mix.backing_db_spl is None else f"{mix.backing_db_spl:g}"
    shown = {"backing": backing, "own": mix.own, "one_ear_off": mix.one_ear_off, "click": mix.click}
    return CueScreen(
        form=CueForm(shown=shown), told=cue_told(cue_of(found, mix), mix), is_measured=mix.leak_db_spl is not None
    )


def mix_from(mix: CueMix, changes: dict[str, Any]) -> CueMix:
    """Return a mix after changes.

    Raises:
        PneumenError: for a level or a way that cannot be.
    """
    levels: dict[str, float | None] = {NOTHING: None} | {f"{one:g}": one for one in BACKINGS_DB}
    return CueMix(
        backing_db_spl=levels.get(str(changes.get("backing")), mix.backing_db_spl),
        one_ear_off=changes.get("one_ear_off", mix.one_ear_off),
        click=changes.get("click", mix.click),
        own=changes.get("own", mix.own),
    )
