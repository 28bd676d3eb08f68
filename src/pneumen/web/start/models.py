"""What is ticked off the checklist of plugging in."""

from typing import ClassVar

from django.db import models

from pneumen.web.owned import Owned
from pneumen.web.part.models import Part


class Tick(Owned):
    """A step of the checklist that was done for a part."""

    part = models.ForeignKey(Part, on_delete=models.CASCADE, related_name="ticks")
    step = models.CharField(max_length=60)

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["part", "step"], name="one_tick_a_step")]
