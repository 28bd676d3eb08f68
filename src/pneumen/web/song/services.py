"""Making, renaming, deleting and bringing back songs and parts."""

from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.urls import reverse

from pneumen.core.errors import Contradiction
from pneumen.core.part import SOURCES
from pneumen.web.audio.put_away import KEPT_DAYS, old, today
from pneumen.web.audio.services import release_unused
from pneumen.web.owned import PutAway
from pneumen.web.part.models import Part
from pneumen.web.room.models import Room
from pneumen.web.song.models import Song
from pneumen.web.take.models import Take

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
    """Put a song away; bring_back brings it back whole."""
    song.put_away_day = today()
    song.save(update_fields=["put_away_day"])


@transaction.atomic
def bring_back(row: PutAway) -> None:
    """Bring back what was put away."""
    row.put_away_day = None
    row.save(update_fields=["put_away_day"])


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
def put_part_away(part: Part) -> None:
    """Put a part away with its takes; a song keeps at least one."""
    if part.song.parts.count() == 1:
        raise Contradiction("part", "is the only one of its song: add another first, or delete the song")
    part.put_away_day = today()
    part.save(update_fields=["put_away_day"])


@dataclass(frozen=True, slots=True, kw_only=True)
class AwayRow:
    """Something put away: what, and the address that brings it back."""

    told: str
    undo: str


def put_away_of(owner: Owner) -> list[AwayRow]:
    """Return what a person put away and can bring back: songs, then parts and takes of songs that are there."""
    songs = Song.everything.mine(owner).exclude(put_away_day=None)
    parts = Part.everything.mine(owner).exclude(put_away_day=None).filter(song__put_away_day=None)
    takes = Take.everything.mine(owner).exclude(put_away_day=None)
    takes = takes.filter(part__put_away_day=None, part__song__put_away_day=None)
    rows = [AwayRow(told=song.name, undo=reverse("song:undo", args=[song.pk])) for song in songs]
    rows += [
        AwayRow(told=f"{part.name} of {part.song.name}", undo=reverse("song:undo-part", args=[part.pk]))
        for part in parts.select_related("song")
    ]
    return rows + [
        AwayRow(
            told=f"Take {take.number} of {take.part.name}, {take.part.song.name}",
            undo=reverse("take:undo", args=[take.part_id, take.number]),
        )
        for take in takes.select_related("part__song").defer("outline", "measurement", "snapshot", "correction")
    ]


@transaction.atomic
def purge() -> int:
    """Remove for good what was put away long enough ago, and its recordings; return how many rows and files."""
    day, owners, count = today(), set(), 0
    for model in (Song, Part, Take):
        for row in model.everything.filter(put_away_day__lte=day - KEPT_DAYS).select_related("owner"):
            owners.add(row.owner)
            row.delete()
            count += 1
    for owner in owners:
        release_unused(owner)
    for recording in old(day):
        recording.unlink(missing_ok=True)
        count += 1
    return count


def _checked(name: str) -> str:
    name = " ".join(name.split())
    if not name:
        raise Contradiction("name", "must not be empty")
    if len(name) > 120:
        raise Contradiction("name", f"must have at most 120 letters, had {len(name)}")
    return name
