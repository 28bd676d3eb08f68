"""How a person is used to reading: money and lengths."""

from typing import ClassVar

from django.db import models

from pneumen.core.take import JUDGINGS, RESTS
from pneumen.web.owned import Owned, choices_of
from pneumen.wording.figures import NUMBER_STYLES, Habits
from pneumen.wording.language import _

LENGTHS = {"metric": _("Centimetres and metres"), "feet": _("Feet and inches")}


class Preferences(Owned):
    """One row a person: the currency's sign, its place, how large numbers are written, in what one measures; what
    counts first in judging a take, and after how many one rests."""

    currency_sign = models.CharField(max_length=4, blank=True)
    sign_after = models.BooleanField(default=False)
    number_style = models.CharField(max_length=20, choices=choices_of(NUMBER_STYLES), default="comma-point")
    lengths = models.CharField(max_length=10, choices=choices_of(LENGTHS), default="metric")
    judging = models.CharField(max_length=10, choices=choices_of(dict.fromkeys(JUDGINGS)), default="rhythm")
    rest = models.CharField(max_length=10, choices=choices_of(dict.fromkeys(RESTS)), default=RESTS[0])

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["owner"], name="one_preferences_a_person")]

    def to_habits(self) -> Habits:
        return Habits(
            currency_sign=self.currency_sign,
            sign_after=self.sign_after,
            number_style=NUMBER_STYLES[self.number_style],
            feet=self.lengths == "feet",
        )
