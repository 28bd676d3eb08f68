"""What is said of seams and of takes that are joined."""

from typing import Final

from pneumen.core.comp import Seam
from pneumen.core.take import Finding
from pneumen.core.verdict import Verdict
from pneumen.wording.figures import figure
from pneumen.wording.language import _

SEAMS: Final = {
    "same-take": _("one take runs on here, only its level changes"),
    "alike": _("both takes sound alike here, so nothing is heard of the change"),
    "before-attack": _("it lies just before a sound begins, which covers it"),
    "pause": _("it lies in a pause"),
    "cuts-a-note": _("a note sounds through it in both takes, and they do not match: move it to a pause or an attack"),
    "level-step": _("the level steps here by more than 3 dB: match the phrases' levels"),
}


BY_ITSELF: Final = _(
    "the level steps here as it does inside the takes by themselves: it belongs to what is sung or played"
)


def seam_told(seam: Seam) -> str:
    """Return why a seam is smooth, or is not."""
    return str(SEAMS[seam.why] if seam.smooth or seam.heard else BY_ITSELF)


EARLIER: Final = _("laid {ms} ms earlier")
LATER: Final = _("laid {ms} ms later")


def laid_told(lag_s: float) -> str:
    """Say that a phrase lies elsewhere than its take would have it: a lag is taken out."""
    return (EARLIER if lag_s > 0 else LATER).format(ms=figure(abs(1000 * lag_s)))


LAWS: Final = {"linear": _("linear"), "equal-power": _("at equal power")}


def seam_figures(seam: Seam) -> tuple[str, ...]:
    """Return a seam's figures: its crossfade, its step beside the same join inside either take, the floor's step."""
    told = [_("crossfade of {length} ms, {law}").format(length=figure(seam.crossfade_ms, 0), law=LAWS[seam.law])]
    if seam.step_db is not None:
        told.append(_("step {step} dB").format(step=figure(seam.step_db, 1, sign=True)))
        for name, own in zip((seam.from_take, seam.to_take), seam.own_steps_db, strict=True):
            if own is not None:
                told.append(_("inside take {name} alone {step} dB").format(name=name, step=figure(own, 1, sign=True)))
    if seam.floor_step_db is not None:
        told.append(_("floor {step} dB").format(step=figure(seam.floor_step_db, 1, sign=True)))
    if seam.moved_ms:
        told.append(_("moved {moved} ms").format(moved=figure(seam.moved_ms, 0, sign=True)))
    return tuple(told)


def advice_on_comp(finding: Finding) -> str:
    """Return what is wrong with joined takes, and what to do about it."""
    name = finding.cause
    match finding.kind:
        case "level-step":
            told = _("The level steps by {step} dB here: match the levels, or give the phrase a gain.")
            if finding.verdict is Verdict.CLEAR:
                told = _("The level steps by {step} dB here, as it does inside the takes by themselves.")
            return told.format(step=figure(finding.value, 1, sign=True))
        case "cuts-a-note":
            return str(_("A note is cut here: move the seam to a pause or just before an attack."))
        case "short-take":
            told = _("Take {name} lacks {lack:.2f} s of this phrase, and there is silence: shorten it or take another.")
            return told.format(name=name, lack=finding.value or 0.0)
        case "resampled":
            return _("Take {name} has another rate or clock than the song and was resampled.").format(name=name)
        case "clipping" if name == "sum":
            told = _("The joined takes went {over:.2f} dB over full scale: the whole track was lowered by as much.")
            return told.format(over=finding.value or 0.0)
        case "clipping":
            return _("Take {name} clips in this phrase: nothing mends it, choose another take.").format(name=name)
    raise KeyError(finding.kind)
