"""Taking the answers and making the plan from them."""

from typing import Any, TypeVar

from django.db import transaction

from pneumen.core.errors import NothingFits
from pneumen.core.gain import school_named
from pneumen.core.gear import MICROPHONE_FAMILIES
from pneumen.core.kit import USB_DIAL_DB, Item, Kit, Needs, OwnedGear, Plan, owned_item, part_need, plan_kits
from pneumen.core.place import starting_distance
from pneumen.web.gear.services import catalogue_and_gear_at_hand
from pneumen.web.song.models import Interface, Microphone, Part, room_need
from pneumen.web.song.outlook import outlook_of

Row = TypeVar("Row", Microphone, Interface)


@transaction.atomic
def save_answers(part: Part, answers: dict[str, Any]) -> None:
    """Store checked answers, and set the part up by the plan where the gear changed."""
    song, room, gear_before = part.song, part.song.room, part.chain_name
    decided_before = _what_decides_the_gear(part)
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
    # A kit taken on the Kit screen stays, unless an answer that decides the gear was changed.
    if not part.is_set_up or _what_decides_the_gear(part) != decided_before:
        apply_plan(part, gear_before)


def _what_decides_the_gear(part: Part) -> tuple[Any, ...]:
    song = part.song
    own = part.own_microphone_id, part.own_interface_id
    return part.answered, part.source, song.budget, song.route, *own, tuple(song.owned_kinds), _sheets(part)


def _sheets(part: Part) -> tuple[Item, ...]:
    """Return one's own devices as they are described: another data sheet is another device to plan with."""
    return tuple(row.to_core() for row in (part.own_microphone, part.own_interface) if row)


def _take_part_answers(part: Part, answers: dict[str, Any]) -> None:
    if answers["source"] != part.source:
        forget_take(part)  # what was learned belongs to another performance
    if answers["source"] != part.source:
        label = part.source_facts.label
        part.source = answers["source"]
        if part.name == label:
            part.name = part.source_facts.label
        part.bought_microphone = part.bought_interface = part.bought_booster = part.bought_box = ""
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


def needs_of(part: Part) -> Needs:
    """Return what a part needs of a kit, its own microphone and interface being in it."""
    song, room = part.song, room_need(part.song.room)
    known = part.known_source_levels() if part.known_absolute else None
    return Needs(
        parts=(part_need(part.source, room, levels=known or part.guessed_source_levels()),),
        room=room,
        budget=song.budget,
        route=song.route,
        computer_speed=song.computer,
        must=frozenset(item.id for item in part.owned_gear().items if item.kind == "interface" or not part.is_plugged),
    )


def plan_kit(part: Part) -> Plan:
    """Return the kits worth buying for a part, and the recommended one.

    Raises:
        NothingFits: where no complete kit is within the money.
    """
    catalogue, at_hand = catalogue_and_gear_at_hand(part.owner_id)
    own = part.owned_gear()
    owned = OwnedGear(items=(*own.items, *map(owned_item, at_hand)), kinds=own.kinds)
    return plan_kits(needs_of(part), owned, catalogue)


def apply_plan(part: Part, gear_before: str = "") -> None:
    """Set the part up with the recommended kit; where the gear is as before, distance and gain stay as they are."""
    try:
        plan = plan_kit(part)
    except NothingFits:
        return
    set_up(part, plan.kits[plan.recommended], 0, gear_before)


def set_up(part: Part, kit: Kit, place: int, gear_before: str = "") -> None:
    """Set a part up with a kit, in which it stands at a place; untouched where it already is."""
    voice = kit.voices[place]
    part.bought_microphone = _bought(voice.microphone)
    part.bought_interface = _bought(kit.interface)
    part.bought_booster, part.bought_box = _bought(voice.booster), _bought(voice.box)
    if part.chain_name != gear_before:
        if not part.is_plugged:
            pattern = outlook_of(part).chain.microphone.pattern
            part.distance_m = starting_distance(part.source_facts, part.song.room.to_core(), pattern).distance_m
        part.gain_db, part.pinned, part.plugged = kit.parts[place].gain_db, None, []
        wanted = school_named(part.school).aim_dbfs - outlook_of(part).prediction.levels.peak_dbfs
        part.gain_db = float(round(part.gain_db + wanted))
    part.gain_db = outlook_of(part).setup.gain_db  # within what the control reaches
    part.save()


def _bought(item: Item | None) -> str:
    return "" if item is None or item.owned else item.id


def set_budget(part: Part, budget: float) -> None:
    part.song.budget = budget
    part.song.save(update_fields=["budget"])
    apply_plan(part, part.chain_name)


def tick(part: Part, slug: str, *, done: bool) -> None:
    """Tick a step of the checklist, or take the tick back."""
    ticked = [step for step in part.plugged if step != slug]
    part.plugged = [*ticked, slug] if done else ticked
    part.save(update_fields=["plugged"])
