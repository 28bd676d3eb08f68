"""How a person is used to reading: their money."""

from typing import ClassVar

from django.db import models

from pneumen.web.song.owned import Owned, choices_of
from pneumen.web.wording import NUMBER_STYLES, Habits


class Preferences(Owned):
    """One row a person: the currency's sign, where it stands, and how large numbers are written."""

    currency_sign = models.CharField(max_length=4, blank=True)
    sign_after = models.BooleanField(default=False)
    number_style = models.CharField(max_length=20, choices=choices_of(NUMBER_STYLES), default="comma-point")

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["owner"], name="one_preferences_a_person")]

    def to_habits(self) -> Habits:
        return Habits(
            currency_sign=self.currency_sign, sign_after=self.sign_after, number_style=NUMBER_STYLES[self.number_style]
        )
