"""What every row has in common: an owner, and `mine` as the only way to ask for rows."""

from collections.abc import Mapping
from typing import Any, ClassVar, Self

from django.conf import settings
from django.db import models


def choices_of(table: Mapping[str, Any]) -> list[tuple[str, str]]:
    return [(key, key) for key in table]


class OwnedQuerySet(models.QuerySet):
    def mine(self, owner: Any) -> Self:  # noqa: ANN401 - whichever user model is set
        return self.filter(owner=owner)


class KeptManager(models.Manager):
    """Leaves out what was put away."""

    def get_queryset(self) -> models.QuerySet:
        return super().get_queryset().filter(put_away_day=None)


class Owned(models.Model):
    """A row that belongs to a person."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")

    objects: ClassVar[Any] = OwnedQuerySet.as_manager()

    class Meta:
        abstract = True


OwnedKeptManager = KeptManager.from_queryset(OwnedQuerySet)


class PutAway(Owned):
    """A row that is put away instead of deleted, and can be brought back until it is old (see audio.put_away).

    put_away_day is the ledger's day on which it was; objects leaves such rows out, everything does not.
    """

    put_away_day = models.PositiveIntegerField(null=True, blank=True)

    objects: ClassVar[Any] = OwnedKeptManager()  # type: ignore[assignment]
    everything: ClassVar[Any] = OwnedQuerySet.as_manager()

    class Meta:
        abstract = True
