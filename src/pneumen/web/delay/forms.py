"""The buffer, what is worked on, what was seen, and the file that came back."""

from pneumen.core.delay import BUFFERS
from pneumen.core.forecast import OWN
from pneumen.web.fields import NumberField, PickField, StepForm, WholeField
from pneumen.wording.delay import LOADS, THROUGH
from pneumen.wording.language import _
from pneumen.wording.listening import OWN_WAYS

SIZES = {f"{size}": f"{size}" for size in BUFFERS}


class DelayForm(StepForm):
    """What decides the delay of a song."""

    problem_id = "delay-problem"
    buffer = WholeField(_("Buffer, samples"))
    load = PickField(_("Worked on while recording"), LOADS)
    plugins = WholeField(_("Plug-ins look ahead, samples"))
    own = PickField(_("Your own sound"), dict(zip(OWN, OWN_WAYS, strict=True)))


class SeenForm(StepForm):
    """What was seen at a buffer."""

    problem_id = "seen-problem"
    buffer = PickField(_("At a buffer of"), SIZES)
    what = PickField(_("What happened"), {"crackled": _("it crackled"), "held": _("it held")})
    minutes = NumberField(_("for minutes"), decimals=0)


class LoopForm(StepForm):
    """How a way round was measured."""

    problem_id = "loop-problem"
    through = PickField("Measured", THROUGH)
