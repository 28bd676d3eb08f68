"""What the kit is asked for: money and the circumstances. Ranges are the core's."""

from typing import Any

from django import forms

from pneumen.core.kit import COMPUTERS
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
    inputs_at_once = forms.IntegerField(label="Parts recorded at once", min_value=1, max_value=8)
    good_enough_db = forms.FloatField(label="Good enough within, dB", min_value=0, max_value=20, localize=False)
    standing = forms.BooleanField(label="standing", required=False)
    renting = forms.BooleanField(label="renting: nothing glued", required=False)
    monitors = forms.BooleanField(label="monitors too", required=False)

    NAMES = ("budget", "route", "system", "inputs_at_once", "good_enough_db", "standing", "renting", "monitors")

    def __init__(self, song: Song, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, initial={name: getattr(song, name) for name in self.NAMES}, **kwargs)
