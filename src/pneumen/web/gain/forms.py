"""Distance, gain and target as the Gain screen asks for them."""

from typing import Any

from pneumen.core.gain import SCHOOLS
from pneumen.web.fields import LengthField, NumberField, PickField, StepForm
from pneumen.wording.figures import figure

SCHOOL_LABELS = {one.slug: f"{one.label} ({figure(one.low_dbfs)} to {figure(one.high_dbfs)})" for one in SCHOOLS}


class GainForm(StepForm):
    """A control with decibels is asked for its gain, a bare one for the share of its turn."""

    problem_id = "gain-problem"
    distance = LengthField("Distance")
    gain = NumberField("Gain", unit="dB")
    turn = NumberField("Gain", unit="% of turn", decimals=0)
    school = PickField("Target", SCHOOL_LABELS)

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["turn"].widget.attrs["id"] = "gain"  # one control, by whichever name: its handle finds it
        self.fields["school"].widget.attrs["data-kept"] = True


class ActionForm(StepForm):
    """What the button beside a step to take sends along."""

    distance = LengthField("Distance")
    gain = NumberField("Gain", unit="dB")
    aside = NumberField("Off the mouth", unit="degrees", signed=True)
    noise_change = NumberField("Noise", unit="dB", signed=True)

    @property
    def action(self) -> dict[str, float | None]:
        """The values as the core calls them, None where one stays as it is."""
        names = {"distance": "distance_m", "gain": "gain_db", "aside": "aside_deg", "noise_change": "noise_change_db"}
        return {field: self.cleaned_data[name] for name, field in names.items()}
