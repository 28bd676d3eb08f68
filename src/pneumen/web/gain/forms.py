"""Distance, gain and target as the Gain screen asks for them."""

from typing import Any

from django.forms import BoundField

from pneumen.core.gain import OWN, SCHOOLS, School, school_named
from pneumen.web.fields import LengthField, NumberField, PickField, StepForm, choose_from
from pneumen.wording.controls import UNITS
from pneumen.wording.figures import figure
from pneumen.wording.language import _


def label_of(school: School) -> str:
    return _("{label} ({low_dbfs} to {high_dbfs})").format(
        label=school.label, low_dbfs=figure(school.low_dbfs), high_dbfs=figure(school.high_dbfs)
    )


SCHOOL_LABELS = {one.slug: label_of(one) for one in SCHOOLS}


class GainForm(StepForm):
    """A control with decibels is asked for its gain, a knob for the share of its turn, a dial for its number."""

    problem_id = "gain-problem"
    distance = LengthField("Distance")
    gain = NumberField("Gain", unit="dB")
    turn = NumberField("Gain", unit=_("% of its range"), decimals=0)
    dial = NumberField("Gain", unit=UNITS["dial"])
    school = PickField("Target", SCHOOL_LABELS)
    own_volume = NumberField(_("The instrument’s own volume"), unit="%", decimals=0)
    pedal = NumberField(_("A pedal adds"), unit="dB", signed=True)
    mixer = NumberField(_("A mixer adds"), unit="dB", signed=True)
    own_low = NumberField(_("Lowest peak"), unit="dBFS", signed=True)
    own_high = NumberField(_("Highest peak"), unit="dBFS", signed=True)

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for name in ("turn", "dial"):
            self.fields[name].widget.attrs["id"] = "gain"  # one control, by whichever name: its handle finds it
        self.fields["school"].widget.attrs["data-kept"] = True
        own = self.initial.get("school") or ""
        if own.startswith(OWN):
            choose_from(self.fields["school"], [*SCHOOL_LABELS.items(), (own, label_of(school_named(own)))])

    @property
    def control(self) -> BoundField:
        """The field of the control that the part has."""
        return self[next((name for name in ("turn", "dial") if name in self.initial), "gain")]


class ActionForm(StepForm):
    """What the button beside a step to take sends along."""

    distance = LengthField("Distance")
    gain = NumberField("Gain", unit="dB")
    aside = NumberField(_("Off the mouth"), unit="degrees", signed=True)
    noise_change = NumberField("Noise", unit="dB", signed=True)

    @property
    def action(self) -> dict[str, float | None]:
        """The values as the core calls them, None where one stays as it is."""
        names = {"distance": "distance_m", "gain": "gain_db", "aside": "aside_deg", "noise_change": "noise_change_db"}
        return {field: self.cleaned_data[name] for name, field in names.items()}
