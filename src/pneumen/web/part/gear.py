"""The gear of a part: what is recorded, with which devices, owned, planned or put in by hand."""

from contextlib import suppress

from django.db import models

from pneumen.core.errors import UnknownName, given
from pneumen.core.gear import OWN_FAMILIES
from pneumen.core.kit import (
    ASSUMED,
    Item,
    assumed_interface,
    assumed_microphone,
    chain_of,
    item_named,
    owned_item,
    pad_set_to,
    plugged_chain_of,
)
from pneumen.core.part import FORMATS, SOURCES, Source, own_volume_db
from pneumen.core.place import USUAL_PAIR, StereoPair
from pneumen.core.setup import AS_USUAL, Before, Chain, PluggedChain, RecorderChain, UsbChain, with_taper
from pneumen.web.gear.models import Interface, Microphone
from pneumen.web.owned import PutAway, choices_of


class WithGear(PutAway):
    """What a part is recorded with. other_microphone is a second one its person has: the better of the two is planned.

    format is mono or stereo; between_deg and spacing_m are the pair's, empty for the usual one. bought_* name what
    is planned; pad_db is what a pad with a control is set to take, empty for its weakest setting. own_volume is how
    far an instrument's own volume is up (0 to 1, empty: as usual), pedal_db and mixer_db what stands before the
    interface adds. gear_by_hand names those of bought_* that were chosen at a joint: a new plan leaves them.
    """

    source = models.CharField(max_length=30, choices=choices_of(SOURCES))
    format = models.CharField(max_length=10, choices=choices_of(dict.fromkeys(FORMATS)), default=FORMATS[0])
    between_deg = models.FloatField(null=True, blank=True)
    spacing_m = models.FloatField(null=True, blank=True)
    own_microphone = models.ForeignKey(Microphone, null=True, blank=True, on_delete=models.SET_NULL)
    other_microphone = models.ForeignKey(Microphone, null=True, blank=True, on_delete=models.SET_NULL, related_name="+")
    own_interface = models.ForeignKey(Interface, null=True, blank=True, on_delete=models.SET_NULL)
    bought_microphone = models.CharField(max_length=60, blank=True)
    bought_interface = models.CharField(max_length=60, blank=True)
    bought_booster = models.CharField(max_length=60, blank=True)
    bought_box = models.CharField(max_length=60, blank=True)
    bought_pad = models.CharField(max_length=60, blank=True)
    pad_db = models.FloatField(null=True, blank=True)
    own_volume = models.FloatField(null=True, blank=True)
    pedal_db = models.FloatField(default=0)
    mixer_db = models.FloatField(default=0)
    gear_by_hand = models.JSONField(default=list, blank=True)

    class Meta:
        abstract = True

    @property
    def source_facts(self) -> Source:
        return SOURCES[self.source]

    @property
    def is_plugged(self) -> bool:
        """Whether the instrument's plug is recorded, not its sound in the air."""
        return self.source_facts.direct is not None

    @property
    def microphone(self) -> Item | None:
        """The microphone, the family's usual one where there is none yet; None for what is plugged in."""
        if self.is_plugged:
            return None
        taken = self._item(self.bought_microphone)
        own = self.own_microphone.to_core() if self.own_microphone else None
        return taken or own or assumed_microphone(self.source_facts)

    @property
    def needs_interface(self) -> bool:
        """Whether an interface stands before the file: not with a recorder, nor with a plug into the computer."""
        microphone = self.microphone
        return microphone is None or (microphone.kind != "recorder" and microphone.microphone_family.plug == "xlr")

    @property
    def interface(self) -> Item | None:
        """The interface, a usual one where there is none yet; None where the microphone needs none."""
        if not self.needs_interface:
            return None
        taken = self._item(self.bought_interface)
        own = self.own_interface.to_core() if self.own_interface else None
        return taken or own or assumed_interface()

    @property
    def booster(self) -> Item | None:
        if self.is_plugged or not self.bought_booster or not self.needs_interface:
            return None
        return self._item(self.bought_booster)

    @property
    def box(self) -> Item | None:
        return self._item(self.bought_box) if self.is_plugged else None

    @property
    def pad_as_sold(self) -> Item | None:
        """The pad before the input, whatever it is set to; None where there is no input it could stand before."""
        return self._item(self.bought_pad) if self.bought_pad and self.needs_interface else None

    @property
    def pad(self) -> Item | None:
        """The pad before the input, as it is set."""
        sold = self.pad_as_sold
        return sold and pad_set_to(sold, self.pad_db)

    @property
    def strongest_pad_db(self) -> float | None:
        """What the pad adds at its strongest; None without a control."""
        sold = self.pad_as_sold
        return sold.gain_db if sold and sold.weakest_gain_db is not None else None

    @property
    def before(self) -> Before:
        """What changes its level before the interface; nothing for what is no plug."""
        if not self.is_plugged:
            return AS_USUAL
        share = self.own_volume if self.source_facts.volume_is_level else None
        volume_db = 0.0 if share is None else own_volume_db(share)
        return Before(own_volume_db=volume_db, pedal_db=self.pedal_db, mixer_db=self.mixer_db)

    @property
    def devices(self) -> tuple[Item, ...]:
        """All that the sound passes on its way into the file."""
        return tuple(item for item in (self.microphone, self.interface, self.booster, self.box, self.pad) if item)

    @property
    def assumed_devices(self) -> tuple[Item, ...]:
        """What is neither owned nor chosen, only taken for granted so that something can be computed."""
        return tuple(item for item in self.devices if item.id.startswith(ASSUMED))

    @property
    def has_own_chain(self) -> bool:
        """Whether its person described one whole chain for it on Start: then nothing is planned for it."""
        if self.is_plugged:
            return self.own_interface is not None
        if self.own_microphone is None or self.other_microphone is not None:
            return False
        return OWN_FAMILIES[self.own_microphone.family].plug != "xlr" or self.own_interface is not None

    @property
    def in_stereo(self) -> bool:
        """Whether it is to be recorded on two channels."""
        return self.format == "stereo"

    def pair_with(self, chain: Chain) -> StereoPair | None:
        """Return the pair of microphones it is recorded with behind a chain; None where one stands alone.

        A recorder's own capsules stand as they are built in; a microphone with its own plug into the computer is one,
        and so is one's own without a second like it, unless its person placed two.
        """
        if not self.in_stereo or isinstance(chain, PluggedChain):
            return None
        if isinstance(chain, RecorderChain):
            return USUAL_PAIR
        by_hand = self.between_deg is not None or self.spacing_m is not None
        if isinstance(chain, UsbChain) or (not by_hand and self.has_one_only and chain == self.to_chain()):
            return None
        between_deg = USUAL_PAIR.between_deg if self.between_deg is None else self.between_deg
        spacing_m = USUAL_PAIR.spacing_m if self.spacing_m is None else self.spacing_m
        return StereoPair(pattern=chain.pattern, between_deg=between_deg, spacing_m=spacing_m)

    @property
    def has_one_only(self) -> bool:
        """Whether it is recorded with one's own microphone, which no shop has, and there is no other like it."""
        row, used = self.own_microphone, self.microphone
        if row is None or row.is_recorder or used != row.to_core():
            return False
        return not row.is_like(self.other_microphone)

    @property
    def channels(self) -> int:
        """On how many channels it is recorded with what there is."""
        chain = self.to_chain()
        return 2 if self.pair_with(chain) or (self.in_stereo and isinstance(chain, PluggedChain)) else 1

    def _item(self, item_id: str) -> Item | None:
        """Return an item as its person's catalogue has it, else as it was built in; None where it is gone."""
        if not item_id:
            return None
        for model, prefix in ((Microphone, "own-microphone-"), (Interface, "own-interface-")):
            if item_id.startswith(prefix):
                row = self._own(model, item_id.removeprefix(prefix))
                return row.to_core() if row else None
        mark = next((row for row in self.owner.gear_marks.all() if row.item_id == item_id), None)
        with suppress(UnknownName):
            item = mark.item if mark and mark.item else item_named(item_id)
            return owned_item(item) if mark and mark.have else item
        return None

    def _own(self, model: type[Microphone | Interface], pk: str) -> Microphone | Interface | None:
        """Return a row of its person's own gear, from those at hand if it is among them; None where it is gone."""
        at_hand = (row for row in self.own_rows if isinstance(row, model) and row.owner_id == self.owner_id)
        here = next((row for row in at_hand if str(row.pk) == pk), None)
        return here or model.objects.mine(self.owner_id).filter(pk=pk).first()

    def to_chain(self) -> Chain:
        """Return what the part's sound passes on its way into the file: there always is one."""
        if self.is_plugged:
            hub, passive = given("interface", self.interface), self.source_facts.is_passive
            return self._mapped(plugged_chain_of(hub, self.box, self.pad, passive=passive, before=self.before))
        return self._mapped(chain_of(given("microphone", self.microphone), self.interface, self.booster, self.pad))

    def _mapped(self, chain: Chain) -> Chain:
        """Return a chain with the map of one's own knob, where it is the one that is used."""
        row, used = self.own_interface, self.interface
        is_used = row is not None and used is not None and used.id == row.to_core().id
        taper = row.taper if row is not None and is_used and chain.gain_marking == "bare" else None
        return chain if taper is None else with_taper(chain, taper)

    @property
    def chain_name(self) -> str:
        """Names the gear and how its pad is set, to tell whether a take was recorded with the same."""
        names = [item.id for item in self.devices]
        pad = self.pad if self.strongest_pad_db is not None else None
        return "+".join([*names, f"{pad.gain_db:g} dB"] if pad else names)

    @property
    def own_rows(self) -> "tuple[Microphone | Interface, ...]":
        """What its person described as owned, each device by itself."""
        return tuple(row for row in (self.own_microphone, self.other_microphone, self.own_interface) if row)
