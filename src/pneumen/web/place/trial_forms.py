"""Which spots a blind trial compares, and how far away each is."""

from collections.abc import Sequence
from typing import Any

from django import forms

from pneumen.web.fields import LengthField, StepForm
from pneumen.web.place.trials import Proposal
from pneumen.wording.language import _


class SpotsForm(StepForm):
    """A tick and a distance for each spot offered."""

    problem_id = "trial-problem"
    remembers = False

    spot = forms.MultipleChoiceField(required=False)

    def __init__(self, offered: Sequence[Proposal], *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.offered = offered
        self.offer("spot", [(one.slug, one.label) for one in offered])
        for one in offered:
            self.fields[f"distance-{one.slug}"] = LengthField(
                _("Distance of {label}").format(label=one.label), initial=one.distance_m
            )

    @property
    def spots(self) -> list[tuple[str, float]]:
        """The spots ticked, each at the distance typed."""
        far = {one.slug: self.cleaned_data[f"distance-{one.slug}"] or one.distance_m for one in self.offered}
        return [(slug, far[slug]) for slug in self.cleaned_data["spot"]]

    @property
    def rows(self) -> list[tuple[Proposal, forms.BoundField, bool]]:
        """Each spot with its distance, and whether it is ticked: three of them to begin with."""
        few = (self.offered[0], *self.offered[2:3], self.offered[-1])
        ticked = self["spot"].value() or [] if self.is_bound else [one.slug for one in few]
        return [(one, self[f"distance-{one.slug}"], one.slug in ticked) for one in self.offered]
