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


class Owned(models.Model):
    """A row that belongs to a person."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")

    objects: ClassVar[Any] = OwnedQuerySet.as_manager()

    class Meta:
        abstract = True
