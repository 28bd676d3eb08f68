"""What the kit is asked for: money and the circumstances. Ranges are the core's."""

from typing import Any

from django.forms import BoundField

from pneumen.core.kit import COMPUTERS, TONES
from pneumen.web.fields import CheckField, NumberField, PickField, StepForm
from pneumen.web.start.forms import ROUTE_LABELS
from pneumen.wording.language import _

SYSTEM_LABELS = dict(
    zip(COMPUTERS, (_("any computer"), "Windows", "a Mac", "Linux", "a tablet", _("no computer")), strict=True)
)


class KitForm(StepForm):
    """The fields beside the frontier."""

    problem_id = "kit-problem"
    emptied = ("system", "tone")

    budget = NumberField("Money", decimals=2)
    route = PickField("Route", ROUTE_LABELS)
    system = PickField("Computer", SYSTEM_LABELS)
    tone = PickField(_("Microphone tone"), {"": _("any tone"), **{tone: f"{tone} only" for tone in TONES}})
    enough_clean_db = NumberField(_("Clean range that is enough"), unit="dB")
    instrument_price = NumberField(_("What your instrument cost"), decimals=2)
    standing = CheckField("standing")
    renting = CheckField(_("renting: nothing glued"))
    monitors = CheckField(_("monitors too"))
    take_handling = CheckField(_("software that keeps takes"))
    monthly_fees = CheckField(_("monthly fees are fine"))
    lent = CheckField(_("lent to others: sturdy"))

    CHECKS = ("standing", "renting", "monitors", "take_handling", "monthly_fees", "lent")

    def __init__(self, *args: Any, plugged: bool = True, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        if not plugged:  # the price of a voice or a harp decides nothing
            del self.fields["instrument_price"]

    @property
    def asked(self) -> list[BoundField]:
        return [self[name] for name in self.fields if name not in self.CHECKS]

    @property
    def checks(self) -> list[BoundField]:
        return [self[name] for name in self.CHECKS]
