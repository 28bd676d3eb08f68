"""What is known of an input: what it does to the sound, as a line said softly, loudly, softly told."""

from typing import ClassVar

import msgspec
from django.db import models
from django.utils import timezone

from pneumen.core.take import CUTS, RIDES, THINS, Riding
from pneumen.web.owned import Owned


class InputCheck(Owned):
    """One check of an input, by the name the browser gives it; the newest counts."""

    device = models.CharField(max_length=200)
    result = models.JSONField()
    created_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering: ClassVar = ["-created_at", "-pk"]

    def to_core(self) -> Riding:
        return msgspec.convert(self.result, Riding)

    @property
    def alters(self) -> tuple[str, ...]:
        """What it does to the sound; nothing where it leaves it alone."""
        return tuple(what for what in self.to_core().found if what in (RIDES, CUTS, THINS))
