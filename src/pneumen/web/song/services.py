"""Making, renaming, deleting and bringing back songs and parts."""

from datetime import timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone

from pneumen.core.errors import Contradiction
from pneumen.core.part import SOURCES
from pneumen.web.audio.services import release_unused
from pneumen.web.part.models import Part
from pneumen.web.room.models import Room
from pneumen.web.song.models import Song

Owner = Any
MOST_SESSIONS = 8
MOST_PARTS = 8
KEPT_AFTER_DELETE = timedelta(days=30)


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


def delete_song(song: Song) -> None:
    """Put a song away; undo_delete brings it back whole."""
    song.deleted_at = timezone.now()
    song.save(update_fields=["deleted_at"])


def undo_delete(song: Song) -> None:
    song.deleted_at = None
    song.save(update_fields=["deleted_at"])


@transaction.atomic
def add_part(owner: Owner, song: Song, source: str) -> Part:
    """Add a part, named after its source, with a number where the name is taken."""
    if song.parts.count() >= MOST_PARTS:
        raise Contradiction("song", f"holds {MOST_PARTS} parts, which is the most: record the rest as another song")
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
def delete_part(part: Part) -> None:
    """Delete a part, its takes and their recordings; a song keeps at least one."""
    if part.song.parts.count() == 1:
        raise Contradiction("part", "is the only one of its song: add another first, or delete the song")
    part.delete()
    release_unused(part.owner)


@transaction.atomic
def purge_deleted() -> int:
    """Remove for good what was put away long enough ago; return how many songs."""
    gone = list(Song.objects.filter(deleted_at__lt=timezone.now() - KEPT_AFTER_DELETE).select_related("owner"))
    for song in gone:
        song.delete()
    for owner in {song.owner for song in gone}:
        release_unused(owner)
    return len(gone)


def _checked(name: str) -> str:
    name = " ".join(name.split())
    if not name:
        raise Contradiction("name", "must not be empty")
    if len(name) > 120:
        raise Contradiction("name", f"must have at most 120 letters, had {len(name)}")
    return name
