"""Making, renaming and deleting songs and parts; away brings them back."""

from typing import Any

from django.db import transaction

from pneumen.core.errors import Contradiction
from pneumen.core.part import SOURCES
from pneumen.web.audio.put_away import today
from pneumen.web.part.models import Part
from pneumen.web.room.models import Room
from pneumen.web.song.models import Song
from pneumen.wording.language import _

Owner = Any
MOST_SESSIONS = 8
MOST_PARTS = 8


@transaction.atomic
def create_song(owner: Owner, name: str) -> Song:
    """Make a song with one voice part, in a room of its own; another room is chosen on Start."""
    name = _checked(name)
    room = Room.objects.create(
        owner=owner, name=f"Room of {name}"[:80], size="medium", furnishing="some", noise="unknown"
    )
    song = Song.objects.create(owner=owner, name=name, room=room)
    add_part(owner, song, "voice-pop")
    return song


def rename_song(song: Song, name: str) -> None:
    song.name = _checked(name)
    song.save(update_fields=["name"])


@transaction.atomic
def put_song_away(song: Song) -> None:
    """Put a song away; away.bring_back brings it back whole."""
    song.put_away_day = today()
    song.save(update_fields=["put_away_day"])


@transaction.atomic
def add_part(owner: Owner, song: Song, source: str) -> Part:
    """Add a part, named after its source, with a number where the name is taken."""
    if song.parts.count() >= MOST_PARTS:
        raise Contradiction(
            "song",
            _("holds {most_parts} parts, which is the most: record the rest as another song").format(
                most_parts=MOST_PARTS
            ),
        )
    label = SOURCES[source].label
    taken = set(song.parts.values_list("name", flat=True))
    name, count = label, 2
    while name in taken:
        name, count = f"{label} {count}", count + 1
    return Part.objects.create(
        owner=owner,
        song=song,
        name=name,
        source=source,
        position=song.parts.count(),
        session=min(song.parts.count() + 1, MOST_SESSIONS),
    )


@transaction.atomic
def put_part_away(part: Part) -> None:
    """Put a part away with its takes; a song keeps at least one."""
    if part.song.parts.count() == 1:
        raise Contradiction("part", _("is the only one of its song: add another first, or delete the song"))
    part.put_away_day = today()
    part.save(update_fields=["put_away_day"])


def _checked(name: str) -> str:
    name = " ".join(name.split())
    if not name:
        raise Contradiction("name", _("must not be empty"))
    if len(name) > 120:
        raise Contradiction("name", _("must have at most 120 letters, had {name}").format(name=len(name)))
    return name
