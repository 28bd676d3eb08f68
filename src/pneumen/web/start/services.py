"""Taking the answers and making the plan from them."""

from typing import Any, TypeVar

from django.db import transaction

from pneumen.core.errors import NothingFits
from pneumen.core.gain import school_named
from pneumen.core.gear import MICROPHONE_FAMILIES
from pneumen.core.kit import Kit, Needs, built_in_catalogue, choose_kit
from pneumen.web.song.models import Interface, Microphone, Part
from pneumen.web.song.outlook import outlook_of

Row = TypeVar("Row", Microphone, Interface)
USB_DIAL_DB = 30.0
"""The reach of a small dial on a USB microphone where nothing is known of it (estimate)."""


@transaction.atomic
def save_answers(part: Part, answers: dict[str, Any]) -> None:
    """Store checked answers, and set the part up by the plan where the gear changed."""
    song, room, gear_before = part.song, part.song.room, part.chain_name
    if room.noise != answers["noise"]:
        room.measured_noise_dba, room.measured_noise_band_db, room.told_change_db = None, None, 0
        part.known_room_dba = None
        Part.objects.mine(part.owner).filter(song__room=room).update(known_room_dba=None)
    for name in ("size", "furnishing", "noise"):
        setattr(room, name, answers[name])
    room.save()
    for name in ("budget", "route", "computer", "audience"):
        setattr(song, name, answers[name])
    song.owned_kinds = answers["owned"]
    song.save()
    _take_part_answers(part, answers)
    part.own_microphone = _own_microphone(part, answers)
    part.own_interface = _own_interface(part, answers)
    part.answered = True
    part.save()
    apply_plan(part, gear_before)


def _take_part_answers(part: Part, answers: dict[str, Any]) -> None:
    if answers["source"] != part.source:
        forget_take(part)  # what was learned belongs to another performance
    if answers["source"] != part.source:
        label = part.source_facts.label
        part.source = answers["source"]
        if part.name == label:
            part.name = part.source_facts.label
        part.bought_microphone = part.bought_interface = part.bought_booster = ""
        part.distance_m = part.source_facts.usual_m
    part.loudness = answers["loudness"]


def forget_take(part: Part) -> None:
    """Go back to the guess of how loud the part is."""
    part.known_levels = part.known_band_db = part.known_source_band_db = part.known_gain_db = part.known_from = None
    part.known_room_dba = None
    part.known_absolute, part.known_chain = False, ""


def _own_microphone(part: Part, answers: dict[str, Any]) -> Microphone | None:
    choice, sheet = answers["microphone"], answers["microphone_sheet"]
    if choice == "none":
        return None
    if choice.startswith("own:"):
        row = Microphone.objects.mine(part.owner).get(pk=choice[4:])
        if row != part.own_microphone:
            return row  # picked from the list: the fields still show another one's data sheet
    else:
        row = _same_again(part.own_microphone, choice, answers["microphone_name"])
        row = row or Microphone(owner=part.owner, family=choice)
    family = MICROPHONE_FAMILIES[row.family]
    row.name = answers["microphone_name"] or row.name or f"My {family.label[0].lower()}{family.label[1:]}"
    for name in Microphone.SHEET:
        setattr(row, name, sheet.get(name, "" if name == "pattern" else None))
    row.gain_marking = answers["usb_gain"] if family.plug == "usb" else "none"
    row.gain_max_db = USB_DIAL_DB if row.gain_marking == "bare" else 0
    row.save()
    return row


def _same_again(row: Row | None, family: str, name: str) -> Row | None:
    """Return the row a choice by family means once more: an answer sent twice must not make two devices."""
    return row if row and row.family == family and name in ("", row.name) else None


def _own_interface(part: Part, answers: dict[str, Any]) -> Interface | None:
    choice, sheet = answers["interface"], answers["interface_sheet"]
    if choice == "none":
        return None
    if choice.startswith("own:"):
        row = Interface.objects.mine(part.owner).get(pk=choice[4:])
        if row != part.own_interface:
            return row
    else:
        row = _same_again(part.own_interface, choice, answers["interface_name"])
        row = row or Interface(owner=part.owner, family=choice)
    row.name = answers["interface_name"] or row.name or "My interface"
    for name in Interface.SHEET:
        setattr(row, name, sheet.get(name))
    row.save()
    return row


def plan_kit(part: Part) -> Kit:
    """Return the kit the plan recommends for a part.

    Raises:
        NothingFits: where no complete kit is within the money.
    """
    outlook_levels = part.known_source_levels() if part.known_absolute else None
    needs = Needs(
        source=part.source_facts,
        levels=outlook_levels or part.guessed_source_levels(),
        room=part.song.room.to_core(),
        budget=part.song.budget,
        route=part.song.route,
    )
    return choose_kit(needs, part.owned_gear(), built_in_catalogue())


def apply_plan(part: Part, gear_before: str = "") -> None:
    """Set the part up with the recommended kit; where the gear is as before, distance and gain stay as they are."""
    try:
        kit = plan_kit(part)
    except NothingFits:
        return
    part.bought_microphone = "" if kit.microphone.owned else kit.microphone.id
    part.bought_interface = "" if kit.interface is None or kit.interface.owned else kit.interface.id
    part.bought_booster = kit.booster.id if kit.booster else ""
    if part.chain_name != gear_before:
        part.distance_m, part.gain_db, part.pinned, part.plugged = kit.place.distance_m, kit.gain_db, None, []
        wanted = school_named(part.school).aim_dbfs - outlook_of(part).prediction.levels.peak_dbfs
        part.gain_db = float(round(part.gain_db + wanted))
    part.gain_db = outlook_of(part).setup.gain_db  # within what the control reaches
    part.save()


def set_budget(part: Part, budget: float) -> None:
    part.song.budget = budget
    part.song.save(update_fields=["budget"])
    apply_plan(part, part.chain_name)


def tick(part: Part, slug: str, *, done: bool) -> None:
    """Tick a step of the checklist, or take the tick back."""
    ticked = [step for step in part.plugged if step != slug]
    part.plugged = [*ticked, slug] if done else ticked
    part.save(update_fields=["plugged"])
