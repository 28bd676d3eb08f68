"""Put the demo song in place: a singer with a lever harp and a clarinettist in an attic flat over a bakery."""

import json
from importlib.resources import files
from typing import Any

from django.conf import settings
from django.contrib.auth import get_user_model
from django.db import transaction

from pneumen.web.gear.models import Interface, Microphone
from pneumen.web.kit.services import plan_song
from pneumen.web.part.models import Part, Section
from pneumen.web.room.models import CONTENTS, Room
from pneumen.web.song.models import Song


@transaction.atomic
def load_demo(*, fresh: bool) -> bool:
    """Load the demo where this person has no song yet, or anew where asked; tell whether it was loaded."""
    owner = get_user_model().objects.get_or_create(username=settings.LOCAL_OWNER)[0]
    demo = json.loads(files("pneumen.demo").joinpath("song.json").read_text(encoding="utf-8"))
    there = Song.objects.mine(owner).filter(name=demo["name"])
    if fresh:
        there.delete()
        Room.objects.mine(owner).filter(name=demo["room"]["name"], songs=None).delete()
        for model, key in ((Microphone, "microphone"), (Interface, "interface")):
            names = [part[key]["name"] for part in demo["parts"] if part.get(key)]
            model.objects.mine(owner).filter(name__in=names, part=None).delete()
    elif Song.objects.mine(owner).exists():
        return False
    _load(owner, demo)
    return True


def _load(owner: Any, demo: dict[str, Any]) -> None:  # noqa: ANN401 - whichever user model is set
    described, contents = dict(demo["room"]), {}
    for name in CONTENTS:
        contents[name] = described.pop(name)
    room = Room.objects.create(owner=owner, **described)
    for name, rows in contents.items():
        for row in rows:
            getattr(room, name).create(owner=owner, **row)
    song = Song.objects.create(owner=owner, name=demo["name"], room=room, **demo["song"])
    for kind in demo["owned_kinds"]:
        song.owned_kinds.create(owner=owner, kind=kind)
    for position, one in enumerate(demo["parts"]):
        _load_part(song, position, dict(one))
    plan_song(song)


def _load_part(song: Song, position: int, row: dict[str, Any]) -> None:
    owner = song.owner
    microphone, interface = row.pop("microphone", None), row.pop("interface", None)
    sections = row.pop("sections", ())
    part = Part.objects.create(
        owner=owner,
        song=song,
        position=position,
        answered=True,
        own_microphone=Microphone.objects.create(owner=owner, **microphone) if microphone else None,
        own_interface=Interface.objects.create(owner=owner, **interface) if interface else None,
        **row,
    )
    Section.objects.bulk_create(
        Section(owner=owner, part=part, position=number, **section) for number, section in enumerate(sections)
    )
