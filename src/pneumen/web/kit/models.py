"""What a song's person owns of small things, and says of the kit."""

from typing import ClassVar

from django.db import models
from django.db.models import Q

from pneumen.web.owned import Owned
from pneumen.web.song.models import Song

MUST, NEVER = "must", "never"


class OwnedKind(Owned):
    """So many of one kind of small thing are there: stands, cables, headphones."""

    song = models.ForeignKey(Song, on_delete=models.CASCADE, related_name="owned_kinds")
    kind = models.CharField(max_length=30)
    count = models.PositiveSmallIntegerField(default=1)

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["song", "kind"], name="one_row_a_kind")]
        ordering: ClassVar = ["kind"]


class KitMark(Owned):
    """An item that must be in a song's kit, or must never be."""

    song = models.ForeignKey(Song, on_delete=models.CASCADE, related_name="kit_marks")
    item_id = models.CharField(max_length=60)
    wanted = models.CharField(max_length=10)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["song", "item_id"], name="one_kit_mark_an_item"),
            models.CheckConstraint(condition=Q(wanted__in=(MUST, NEVER)), name="known_kit_mark"),
        ]
        ordering: ClassVar = ["pk"]


class KitExtra(Owned):
    """Something a song's kit brings along beside its devices and their small things, as things to hang."""

    song = models.ForeignKey(Song, on_delete=models.CASCADE, related_name="kit_extras")
    item_id = models.CharField(max_length=60)

    class Meta:
        ordering: ClassVar = ["pk"]
