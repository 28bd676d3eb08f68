"""Taking the answers and making the plan from them."""

from collections import Counter
from typing import Any, TypeVar

from django.db import transaction

from pneumen.core.gear import OWN_FAMILIES
from pneumen.core.kit import USB_DIAL_DB, USB_SLIDER_DB, Item
from pneumen.core.take import NOISE
from pneumen.web.gear.models import Interface, Microphone
from pneumen.web.kit.models import OwnedKind
from pneumen.web.kit.services import keep_options, plan_song
from pneumen.web.part.models import Part
from pneumen.web.room.models import Room
from pneumen.web.room.services import keep_at_hand
from pneumen.web.song.models import Song
from pneumen.web.take.lessons import forget_lessons
from pneumen.web.take.models import Lesson
from pneumen.wording.language import _

Row = TypeVar("Row", Microphone, Interface)


@transaction.atomic
def save_answers(part: Part, answers: dict[str, Any]) -> None:
    """Store checked answers; where one changed that decides the gear, the song is planned anew."""
    part = Part.objects.whole().get(pk=part.pk)  # as it is now: a take may have been measured meanwhile
    song = part.song
    decided_before = _what_decides_the_gear(part)
    _take_room_answers(part, answers)
    for name in ("budget", "route", "computer", "audience", "standing"):
        setattr(song, name, answers[name])
    song.save(update_fields=["budget", "route", "computer", "audience", "standing", "room"])
    _keep_owned_kinds(song, Counter(answers["owned"]))
    fields = _take_part_answers(part, answers)
    part.own_microphone = _own_microphone(part, answers)
    part.other_microphone = _other_microphone(part, answers["other_microphone"])
    part.own_interface = _own_interface(part, answers)
    part.answered = True
    part.save(update_fields=[*fields, "own_microphone", "other_microphone", "own_interface", "answered"])
    part = Part.objects.whole().get(pk=part.pk)
    if _what_decides_the_gear(part) != decided_before:
        plan_song(part.song)


def _keep_owned_kinds(song: Song, counts: Counter[str]) -> None:
    song.owned_kinds.exclude(kind__in=counts).delete()
    for kind, count in counts.items():
        OwnedKind.objects.update_or_create(song=song, kind=kind, defaults={"owner": song.owner, "count": count})


def _take_room_answers(part: Part, answers: dict[str, Any]) -> None:
    """Store the words of the room; one drawn by hand keeps its walls until its person goes back to words."""
    song, room = part.song, part.song.room
    chosen = answers.get("room")
    if chosen is not None and chosen.pk != room.pk:
        song.room = chosen
        return  # its own words stay: the fields still showed the other room's
    if room.noise != answers["noise"]:
        room.noise, room.noise_change_db, room.noise_band_db, room.told_change_db = answers["noise"], 0, None, 0
        room.save(update_fields=["noise", "noise_change_db", "noise_band_db", "told_change_db"])
        Lesson.objects.mine(part.owner).filter(part__song__room=room, what=NOISE).delete()
    words = answers["size"], answers["furnishing"]
    if not room.drawn and words != (room.size, room.furnishing):
        room.size, room.furnishing = words
        room.lay_out()
    keep_at_hand(room, answers["at_hand"])


@transaction.atomic
def back_to_words(room: Room) -> None:
    """Lay a room out from its words again; what was drawn by hand goes, who hears one and what sounds stay."""
    room.lay_out()


def _what_decides_the_gear(part: Part) -> tuple[Any, ...]:
    song = part.song
    own = part.own_microphone_id, part.other_microphone_id, part.own_interface_id, part.format
    answers = song.budget, song.route, song.standing, song.computer, song.core_owned_kinds
    at_hand = tuple(sorted(row.material for row in song.room.to_hang))
    return at_hand, part.answered, part.source, part.loudness, *answers, *own, _sheets(part)


def _sheets(part: Part) -> tuple[Item, ...]:
    """Return one's own devices as they are described: another data sheet is another device to plan with."""
    return tuple(row.to_core() for row in part.own_rows)


def _take_part_answers(part: Part, answers: dict[str, Any]) -> list[str]:
    """Return the fields that changed with what is recorded and how loud."""
    part.loudness, part.format = answers["loudness"], answers.get("format") or part.format
    if answers["source"] == part.source:
        return ["loudness", "format"]
    forget_lessons(part)  # what was learned belongs to another performance
    label = part.source_facts.label
    part.source = answers["source"]
    if part.name == label:
        part.name = part.source_facts.label
    return ["loudness", "format", "source", "name", *_forget_places(part)]


def _forget_places(part: Part) -> list[str]:
    """Let what was set for another source go back to planned; return the fields."""
    part.zone, part.place_origin, part.gain_origin = "", "", ""
    part.distance_m = part.above_m = part.aside_deg = part.gain_db = part.pinned = None
    part.gear_by_hand = []
    part.ticks.all().delete()
    places = ["zone", "place_origin", "distance_m", "above_m", "aside_deg"]
    return [*places, "gain_origin", "gain_db", "pinned", "gear_by_hand"]


def _own_microphone(part: Part, answers: dict[str, Any]) -> Microphone | None:
    choice, sheet = answers["microphone"], answers["microphone_sheet"]
    if choice == "none":
        return None
    answers = _of_this_device(part.own_microphone, choice, answers, "microphone_name")
    sheet = _its_own_sheet(part.own_microphone, choice, sheet)
    if choice.startswith("own:"):
        row = Microphone.objects.mine(part.owner).get(pk=choice[4:])
        if row != part.own_microphone:
            return row  # picked from the list: the fields still show another one's data sheet
    else:
        row = _same_again(part.own_microphone, choice, answers["microphone_name"]) or Microphone(
            owner=part.owner, family=choice
        )
    family = OWN_FAMILIES[row.family]
    row.name = answers["microphone_name"] or row.name or f"My {_in_a_sentence(family.label)}"
    for name in Microphone.SHEET:
        setattr(row, name, sheet.get(name, "" if name == "pattern" else None))
    row.gain_marking = answers["usb_gain"] if family.plug == "usb" else "none"
    row.gain_max_db = {"bare": USB_DIAL_DB, "slider": USB_SLIDER_DB}.get(row.gain_marking, 0)
    row.save()
    return row


def _other_microphone(part: Part, choice: str) -> Microphone | None:
    """Return the second microphone that is owned; known by its family alone it is a plain one of its kind."""
    if part.own_microphone is None or choice in ("", "none"):
        return None
    if choice == f"own:{part.own_microphone.pk}":  # two of them
        return _twin_of(part.own_microphone, part.other_microphone)
    if choice.startswith("own:"):
        return Microphone.objects.mine(part.owner).get(pk=choice[4:])
    told = f"My {_in_a_sentence(OWN_FAMILIES[choice].label)}"
    name = _("{told}, the other one").format(told=told) if part.own_microphone.name == told else told
    return _same_again(part.other_microphone, choice, "") or Microphone.objects.create(
        owner=part.owner, family=choice, name=name
    )


def _twin_of(row: Microphone, known: Microphone | None) -> Microphone:
    if known is not None and row.is_like(known):
        return known
    sheet = {name: getattr(row, name) for name in (*Microphone.SHEET, "family", "gain_marking", "gain_max_db")}
    most = Microphone._meta.get_field("name").max_length
    return Microphone.objects.create(
        owner=row.owner, name=_("{told}, the other one").format(told=row.name)[:most], **sheet
    )


def _in_a_sentence(label: str) -> str:
    """Begin a label with a small letter, unless its first word is written in capitals."""
    return label if label.split(maxsplit=1)[0].isupper() else f"{label[0].lower()}{label[1:]}"


def _of_this_device(row: Row | None, choice: str, answers: dict[str, Any], field: str) -> dict[str, Any]:
    """Leave out a name that still is another device's: its field was filled before the family was changed."""
    if row is None or choice.startswith("own:") or row.family == choice or answers[field] != row.name:
        return answers
    return answers | {field: ""}


def _its_own_sheet(row: Row | None, choice: str, sheet: dict[str, Any]) -> dict[str, Any]:
    """Leave out the figures that still are another device's."""
    if row is None or choice.startswith("own:") or row.family == choice:
        return sheet
    return {name: value for name, value in sheet.items() if value != getattr(row, name, None)}


def _same_again(row: Row | None, family: str, name: str) -> Row | None:
    """Return the row a choice by family means once more: an answer sent twice must not make two devices."""
    return row if row and row.family == family and name in ("", row.name) else None


def _own_interface(part: Part, answers: dict[str, Any]) -> Interface | None:
    choice, sheet = answers["interface"], answers["interface_sheet"]
    if choice == "none":
        return None
    answers = _of_this_device(part.own_interface, choice, answers, "interface_name")
    sheet = _its_own_sheet(part.own_interface, choice, sheet)
    if choice.startswith("own:"):
        row = Interface.objects.mine(part.owner).get(pk=choice[4:])
        if row != part.own_interface:
            return row
    else:
        row = _same_again(part.own_interface, choice, answers["interface_name"]) or Interface(
            owner=part.owner, family=choice
        )
    row.name = answers["interface_name"] or row.name or _("My interface")
    for name in Interface.SHEET:
        setattr(row, name, sheet.get(name))
    row.save()
    return row


def set_budget(part: Part, budget: float) -> None:
    keep_options(part.song, {"budget": budget})
