"""What the kit is asked for: money and the circumstances. Ranges are the core's."""

from typing import Any

from django import forms

from pneumen.core.kit import COMPUTERS, TONES
from pneumen.web.song.models import Song
from pneumen.web.start.forms import ROUTE_LABELS, choice

SYSTEM_LABELS = dict(
    zip(COMPUTERS, ("any computer", "Windows", "a Mac", "Linux", "a tablet", "no computer"), strict=True)
)


class KitForm(forms.Form):
    """The fields beside the frontier."""

    budget = forms.FloatField(label="Money", min_value=0, max_value=1_000_000, localize=False)
    route = choice("Route", ROUTE_LABELS)
    system = choice("Computer", SYSTEM_LABELS, required=False)
    tone = choice("Microphone tone", {"": "any tone", **{tone: f"{tone} only" for tone in TONES}}, required=False)
    good_enough_db = forms.FloatField(label="Good enough within, dB", min_value=0, max_value=20, localize=False)
    standing = forms.BooleanField(label="standing", required=False)
    renting = forms.BooleanField(label="renting: nothing glued", required=False)
    monitors = forms.BooleanField(label="monitors too", required=False)
    take_handling = forms.BooleanField(label="software that keeps takes", required=False)
    monthly_fees = forms.BooleanField(label="monthly fees are fine", required=False)

    CHECKS = ("standing", "renting", "monitors", "take_handling", "monthly_fees")
    NAMES = ("budget", "route", "system", "tone", "good_enough_db", *CHECKS)

    def __init__(self, song: Song, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, initial={name: getattr(song, name) for name in self.NAMES}, **kwargs)

    @property
    def checks(self) -> list[forms.BoundField]:
        return [self[name] for name in self.CHECKS]
