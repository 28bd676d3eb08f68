"""What the floors of two takes tell of a control without decibels."""

from pneumen.core.levels import power_sum_db
from pneumen.core.line import levels_of
from pneumen.core.setup import setup_from_object
from pneumen.core.take import gain_change_by_floor
from pneumen.web.take.models import Take
from pneumen.wording.takes import floor_told


def floor_of(take: Take) -> str:
    """Say how far the knob was turned since the take before with the same gear, by the floor; empty where it cannot."""
    before = _before(take)
    if before is None or take.snapshot["gain_marking"] != "bare":
        return ""
    then, now = before.to_core(), take.to_core()
    if then is None or now is None or then.noise.floor_dbfs_a is None or now.noise.floor_dbfs_a is None:
        return ""
    leads = _room_leads_db(before), _room_leads_db(take)
    found = gain_change_by_floor(then.noise.floor_dbfs_a, now.noise.floor_dbfs_a, room_leads_db=leads)
    return floor_told(found, before.number) if found else ""


def _before(take: Take) -> Take | None:
    earlier = Take.objects.filter(part=take.part_id, number__lt=take.number, simulated=take.simulated)
    rows = earlier.exclude(measurement=None).defer("peaks", "correction").order_by("-number")
    return next((one for one in rows[:5] if one.snapshot["chain_name"] == take.snapshot["chain_name"]), None)


def _room_leads_db(take: Take) -> float:
    """Return how far the room's noise leads the others, as the take was predicted to be."""
    setup, _ = setup_from_object(take.snapshot["setup"])
    noises = dict(levels_of(setup).noise_by_stage_dbfs)
    room_dbfs = noises.pop("room", None)
    return -100.0 if room_dbfs is None or not noises else room_dbfs - power_sum_db(*noises.values())
