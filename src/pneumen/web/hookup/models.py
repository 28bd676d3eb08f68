"""What was chosen at the joints of a session's chain, and what is ticked off the checklist."""

from typing import ClassVar

from django.db import models
from django.db.models import Q

from pneumen.core.forecast import OWN
from pneumen.core.forecast import CueMix as CoreMix
from pneumen.core.hookup import Choice as CoreChoice
from pneumen.web.owned import Owned, choices_of
from pneumen.web.part.models import Part
from pneumen.web.song.models import Song


class Choice(Owned):
    """One choice about a port, cable or device of what is recorded in one session of a song."""

    song = models.ForeignKey(Song, on_delete=models.CASCADE, related_name="hookup_choices")
    session = models.PositiveSmallIntegerField(default=1)
    what = models.CharField(max_length=10)
    at = models.CharField(max_length=120)
    value = models.CharField(max_length=20)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["song", "session", "what", "at"], name="one_choice_a_joint")
        ]
        ordering: ClassVar = ["pk"]

    def to_core(self) -> CoreChoice:
        return CoreChoice(what=self.what, at=self.at, value=self.value)


class CueMix(Owned):
    """What is in the headphones while one session of a song is recorded; leak_db_spl is what was measured of it."""

    song = models.ForeignKey(Song, on_delete=models.CASCADE, related_name="cue_mixes")
    session = models.PositiveSmallIntegerField(default=1)
    backing_db_spl = models.FloatField(default=80, null=True)
    one_ear_off = models.BooleanField(default=False)
    click = models.BooleanField(default=False)
    own = models.CharField(max_length=10, choices=choices_of(dict.fromkeys(OWN)), default=OWN[0])
    leak_db_spl = models.FloatField(null=True, blank=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["song", "session"], name="one_mix_a_session"),
            models.CheckConstraint(
                condition=Q(backing_db_spl=None) | (Q(backing_db_spl__gte=40) & Q(backing_db_spl__lte=110)),
                name="backing_in_range",
            ),
        ]

    def to_core(self) -> CoreMix:
        return CoreMix(
            backing_db_spl=self.backing_db_spl,
            one_ear_off=self.one_ear_off,
            click=self.click,
            own=self.own,
            leak_db_spl=self.leak_db_spl,
        )


class Tick(Owned):
    """A step of the checklist that was done for a part."""

    part = models.ForeignKey(Part, on_delete=models.CASCADE, related_name="ticks")
    step = models.CharField(max_length=300)

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["part", "step"], name="one_tick_an_act")]
