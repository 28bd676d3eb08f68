"""A level diagram's findings in sentences: what is wrong, and what to do about it."""

from typing import Final

from pneumen.core.gear import LOWEST_EIN_DBU_A
from pneumen.core.levels import thermal_noise_dbu
from pneumen.core.line import LineFinding
from pneumen.wording.language import _

QUIETER: Final = {
    "room": _("quieten the room or move closer"),
    "microphone": _("move closer or use a quieter microphone"),
    "preamp": _("raise the gain, move closer, or put a booster before the preamp"),
    "converter": _("raise the gain"),
    "instrument": _("it hums or hisses by itself: turn it up, away from screens and lamps, with a fresh battery"),
    "box": _("use a quieter DI box, or the interface's own instrument input"),
}


def advice_on_line(finding: LineFinding) -> str:
    """Say what a finding means and what helps."""
    return _ADVICE[finding.kind](finding)


def _clipping(finding: LineFinding) -> str:
    if finding.stage == "converter":
        return _("The loudest peak passes what the converter can take: lower the gain.")
    told = (
        _("The loudest peak passes what the {stage} can take: turn the instrument down or use a pad.")
        if finding.plugged
        else _("The loudest peak passes what the {stage} can take: move back or use a pad.")
    )
    return told.format(stage=finding.stage)


def _too_hot(finding: LineFinding) -> str:
    if finding.plugged:
        return _("Less than 1 dB is left: lower the gain, or play or sing softer.")
    return _("Less than 1 dB is left: lower the gain, or move back.")


def _too_quiet(finding: LineFinding) -> str:
    if finding.plugged:
        return _("The loudest peak stays low: raise the gain, or turn the instrument up.")
    return _("The loudest peak stays low: raise the gain, or move closer.")


def _noise(finding: LineFinding) -> str:
    return _("The {stage} sets the noise: {cure}.").format(stage=finding.stage, cure=QUIETER[finding.stage])


def _gain(finding: LineFinding) -> str:
    limit_db = finding.limit_db or 0.0
    if finding.value > limit_db:
        cure = _("turn the instrument up") if finding.plugged else _("move closer or use a booster")
        told = _("A peak at {target:g} dBFS needs more gain than the {limit:g} dB there is: {cure}.")
    else:
        cure = _("use a pad or turn the instrument down") if finding.plugged else _("use a pad or move back")
        told = _("A peak at {target:g} dBFS needs less gain than the {limit:g} dB there is: {cure}.")
    return told.format(target=finding.target_dbfs, limit=limit_db, cure=cure)


def _sheet(finding: LineFinding) -> str:
    return _(
        "No input noise can lie below {weighted:g} dBu A-weighted ({unweighted:.1f} unweighted) with a 150 ohm source: "
        "the data sheet's figure was taken some other way."
    ).format(weighted=LOWEST_EIN_DBU_A, unweighted=thermal_noise_dbu(150))


_ADVICE: Final = {
    "clipping": _clipping,
    "too-hot": _too_hot,
    "too-quiet": _too_quiet,
    "noise": _noise,
    "gain-out-of-range": _gain,
    "ein-below-thermal": _sheet,
}
