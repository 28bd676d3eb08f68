"""A person's gear: devices described on the Start screen, and what they say of the catalogue's items."""

from contextlib import suppress
from functools import lru_cache
from typing import Any, ClassVar

from django.conf import settings
from django.db import models

from pneumen.core.errors import PneumenError
from pneumen.core.gear import (
    INTERFACE_FAMILIES,
    OWN_FAMILIES,
    RECORDER,
    RECORDER_FAMILY,
    Reading,
    Taper,
    taper_of,
)
from pneumen.core.kit import Item
from pneumen.web.gear.columns import ItemField
from pneumen.web.owned import Owned, choices_of


class Microphone(Owned):
    """One's own microphone: a family and whatever its data sheet says; what is empty is assumed."""

    name = models.CharField(max_length=80)
    family = models.CharField(max_length=30, choices=choices_of(OWN_FAMILIES))
    pattern = models.CharField(max_length=20, blank=True)
    sensitivity_mv_per_pa = models.FloatField(null=True, blank=True)
    self_noise_dba = models.FloatField(null=True, blank=True)
    max_spl_db = models.FloatField(null=True, blank=True)
    impedance_ohm = models.FloatField(null=True, blank=True)
    full_scale_db_spl = models.FloatField(null=True, blank=True)
    gain_marking = models.CharField(max_length=10, default="none")
    gain_max_db = models.FloatField(default=0)

    SHEET: ClassVar = (
        "pattern",
        "sensitivity_mv_per_pa",
        "self_noise_dba",
        "max_spl_db",
        "impedance_ohm",
        "full_scale_db_spl",
    )

    @property
    def is_recorder(self) -> bool:
        return self.family == RECORDER

    def is_like(self, other: "Microphone | None") -> bool:
        """Tell whether another is the same model as far as is known."""
        alike = ("family", "gain_marking", "gain_max_db", *self.SHEET)
        return other is not None and all(getattr(self, name) == getattr(other, name) for name in alike)

    def to_core(self) -> Item:
        if self.is_recorder:
            return self._recorder()
        return _item(
            id=f"own-microphone-{self.pk}",
            kind="microphone",
            name=self.name,
            price=0,
            family=self.family,
            gain_marking=self.gain_marking,
            gain_max_db=self.gain_max_db,
            owned=True,
            **_typed(self, self.SHEET),
        )

    def _recorder(self) -> Item:
        usual = {
            "full_scale_db_spl": RECORDER_FAMILY.full_scale_db_spl,
            "self_noise_dba": RECORDER_FAMILY.self_noise_dba,
            "pattern": RECORDER_FAMILY.pattern,
        }
        return _item(
            id=f"own-microphone-{self.pk}",
            kind="recorder",
            name=self.name,
            price=0,
            gain_marking="bare",
            phones_plug="3.5 mm",
            in_box=("memory-card",),
            owned=True,
            **usual | {name: value for name, value in _typed(self, self.SHEET).items() if name in usual},
        )


class Interface(Owned):
    """One's own interface, likewise."""

    name = models.CharField(max_length=80)
    family = models.CharField(max_length=30, choices=choices_of(INTERFACE_FAMILIES))
    gain_min_db = models.FloatField(null=True, blank=True)
    gain_max_db = models.FloatField(null=True, blank=True)
    gain_step_db = models.FloatField(null=True, blank=True)
    ein_dbu = models.FloatField(null=True, blank=True)
    max_input_dbu = models.FloatField(null=True, blank=True)
    phones_plug = models.CharField(max_length=10, default="6.35 mm")

    SHEET: ClassVar = ("gain_min_db", "gain_max_db", "ein_dbu", "max_input_dbu", "gain_step_db")

    @property
    def taper(self) -> Taper | None:
        """The map of its knob; None where there is none yet, or its readings make none."""
        readings = [row.to_core() for row in self.readings.all()]
        with suppress(PneumenError):
            return taper_of(readings)
        return None

    def to_core(self) -> Item:
        return _item(
            id=f"own-interface-{self.pk}",
            kind="interface",
            name=self.name,
            price=0,
            family=self.family,
            phones_plug=self.phones_plug,
            mic_inputs=INTERFACE_FAMILIES[self.family].inputs,
            line_inputs=1,
            instrument_inputs=1,  # common practice: nearly every interface has one
            owned=True,
            **_typed(self, self.SHEET),
        )


class KnobReading(Owned):
    """A position of an interface's knob, as a share of its turn, and how loud the same steady sound came out there."""

    interface = models.ForeignKey(Interface, on_delete=models.CASCADE, related_name="readings")
    share = models.FloatField()
    level_db = models.FloatField()
    simulated = models.BooleanField(default=False)

    class Meta:
        constraints: ClassVar = [
            models.CheckConstraint(condition=models.Q(share__gte=0) & models.Q(share__lte=1), name="share_in_range"),
            models.UniqueConstraint(fields=["interface", "share"], name="one_reading_a_position"),
        ]
        ordering: ClassVar = ["share"]

    def to_core(self) -> Reading:
        return Reading(share=self.share, level_db=self.level_db)


@lru_cache(maxsize=256)
def _item(**cells: Any) -> Item:
    """Return an item, checked once for the same cells: a page asks for its gear again and again."""
    return Item(**cells)


def _typed(row: models.Model, names: tuple[str, ...]) -> dict[str, Any]:
    """Return what was typed of a data sheet: the fields that hold something."""
    return {name: getattr(row, name) for name in names if getattr(row, name) not in (None, "")}


class GearMark(Owned):
    """What a person says of one item of the catalogue: another price or sheet (item), owned, hidden, removed."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="gear_marks")
    item_id = models.CharField(max_length=60)
    item = ItemField(null=True, blank=True)
    have = models.CharField(max_length=10, blank=True)
    hidden = models.BooleanField(default=False)
    removed = models.BooleanField(default=False)

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["owner", "item_id"], name="one_mark_an_item")]


class GearImport(Owned):
    """A catalogue read from a file, whole and valid, until its person says yes or no to what it would change."""

    file_name = models.CharField(max_length=200)
    document = models.JSONField()
    created_at = models.DateTimeField(auto_now_add=True)
