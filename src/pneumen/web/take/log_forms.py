"""What is told of a session."""

from collections.abc import Mapping
from typing import Any, ClassVar, Self

from pneumen.web.fields import StepForm, TextField, WholeField
from pneumen.web.take.log import MOST_REMARK
from pneumen.web.take.models import Sitting
from pneumen.wording.language import _


class SittingForm(StepForm):
    """What was set up for a session, and how long that took."""

    problem_id = "sitting-problem"
    remembers = False
    CORE: ClassVar[Mapping[str, str]] = {"setup_min": "minutes"}
    set_up = TextField(_("What was set up"), most=MOST_REMARK)
    minutes = WholeField(_("It took, minutes"))

    @classmethod
    def of(cls, sitting: Sitting) -> Self:
        return cls(shown={"set_up": sitting.set_up, "minutes": sitting.setup_min})

    @property
    def told(self) -> dict[str, Any]:
        return {"set_up": self.cleaned_data["set_up"], "setup_min": self.cleaned_data["minutes"]}
