"""What was deleted and is put away: listed, brought back, removed for good, and what room it takes."""

from dataclasses import dataclass
from typing import Any, Final

from django.db import transaction
from django.urls import reverse

from pneumen.web.audio import put_away
from pneumen.web.audio.models import AudioFile
from pneumen.web.audio.services import release, release_unused
from pneumen.web.comp.models import Balance, CompTrack, LayerTrack
from pneumen.web.owned import PutAway
from pneumen.web.part.models import Backing, Part
from pneumen.web.place.models import Trial, TrialSpot
from pneumen.web.send.models import Delivery
from pneumen.web.site.space import free_bytes
from pneumen.web.song.models import Song
from pneumen.web.take.models import Take
from pneumen.wording.language import _

Owner = Any
MOST_LARGE: Final = 10


@dataclass(frozen=True, slots=True, kw_only=True)
class AwayRow:
    """Something put away: what, the address that brings it back, and the one that removes it for good."""

    told: str
    undo: str
    remove: str
    row: PutAway

    @property
    def size_bytes(self) -> int:
        """What its recordings take on the disk; some may be needed elsewhere too."""
        return sum(audio.size_bytes for audio in _recordings(self.row))


@dataclass(frozen=True, slots=True, kw_only=True)
class PackageRow:
    """A package that was made to be sent, and what it takes on the disk."""

    row: Delivery
    size_bytes: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Space:
    """What there is room for on the disk, and what can go."""

    free_bytes: int
    away: list[AwayRow]
    large: list[Take]
    packages: list[PackageRow]
    nobodys_count: int
    nobodys_bytes: int


def packages_of(owner: Owner) -> list[PackageRow]:
    """Return the packages that were made and are still there, the largest first."""
    rows = Delivery.objects.mine(owner).filter(song__put_away_day=None).exclude(manifest=None)
    found = [PackageRow(row=row, size_bytes=row.size_bytes) for row in rows.select_related("song")]
    return sorted((one for one in found if one.size_bytes), key=lambda one: -one.size_bytes)


def put_away_of(owner: Owner) -> list[AwayRow]:
    """Return what a person put away and can bring back: songs, then parts and takes of songs that are there."""
    songs = Song.everything.mine(owner).exclude(put_away_day=None)
    parts = Part.everything.mine(owner).exclude(put_away_day=None).filter(song__put_away_day=None)
    takes = Take.everything.mine(owner).exclude(put_away_day=None)
    takes = takes.filter(part__put_away_day=None, part__song__put_away_day=None)
    rows = [_away(song, song.name, "song:undo", "song:remove", song.pk) for song in songs]
    rows += [
        _away(
            part,
            _("{name} of {name_2}").format(name=part.name, name_2=part.song.name),
            "song:undo-part",
            "song:remove-part",
            part.pk,
        )
        for part in parts.select_related("song")
    ]
    return rows + [
        _away(
            take,
            _("Take {number} of {name}, {name_2}").format(
                number=take.number, name=take.part.name, name_2=take.part.song.name
            ),
            "take:undo",
            "song:remove-take",
            take.part_id,
            take.number,
        )
        for take in takes.select_related("part__song").defer("peaks", "measurement", "snapshot", "correction")
    ]


def _away(row: PutAway, told: str, undo: str, remove: str, *ids: int) -> AwayRow:
    return AwayRow(told=told, undo=reverse(undo, args=ids), remove=reverse(remove, args=ids), row=row)


@transaction.atomic
def bring_back(row: PutAway) -> None:
    """Bring back what was put away."""
    row.put_away_day = None
    row.save(update_fields=["put_away_day"])


@transaction.atomic
def remove_for_good(row: PutAway) -> None:
    """Remove what was put away, and those of its recordings that nothing else points to."""
    recordings = _recordings(row)
    type(row).everything.filter(pk=row.pk).delete()  # not row.delete(), which cannot be tried again
    release(*recordings, for_good=True)


def remove_nobodys() -> None:
    """Remove the recordings for good that were put away with no song, part or take to bring them back by."""
    for path in put_away.all_away():
        path.unlink(missing_ok=True)


def space_of(owner: Owner) -> Space:
    """Return what takes room on the disk, the largest takes first."""
    takes = Take.objects.mine(owner).filter(part__put_away_day=None, part__song__put_away_day=None)
    takes = takes.select_related("part__song", "audio").exclude(audio=None)
    nobodys = [path.stat().st_size for path in put_away.all_away()]
    return Space(
        free_bytes=free_bytes(),
        away=put_away_of(owner),
        large=list(
            takes.order_by("-audio__size_bytes").defer("peaks", "measurement", "snapshot", "correction")[:MOST_LARGE]
        ),
        packages=packages_of(owner),
        nobodys_count=len(nobodys),
        nobodys_bytes=sum(nobodys),
    )


@transaction.atomic
def purge() -> int:
    """Remove for good what was put away long enough ago, and its recordings; return how many rows and files."""
    day, owners, count = put_away.today(), set(), 0
    for model in (Song, Part, Take):
        for row in model.everything.filter(put_away_day__lte=day - put_away.KEPT_DAYS).select_related("owner"):
            owners.add(row.owner)
            row.delete()
            count += 1
    for owner in owners:
        release_unused(owner)
    for recording in put_away.old(day):
        recording.unlink(missing_ok=True)
        count += 1
    return count


def _recordings(row: PutAway) -> set[AudioFile]:
    """Return the recordings a song, part or take points to, those of what was put away in it too."""
    if isinstance(row, Take):
        return {audio for audio in (row.audio, row.preview, row.backing) if audio}
    parts = Part.everything.filter(pk=row.pk) if isinstance(row, Part) else Part.everything.filter(song_id=row.pk)
    pointing = [
        Take.everything.filter(part__in=parts).values("audio"),
        Take.everything.filter(part__in=parts).values("preview"),
        Take.everything.filter(part__in=parts).values("backing"),
        Trial.objects.filter(part__in=parts).values("audio"),
        TrialSpot.objects.filter(trial__part__in=parts).values("raw"),
        TrialSpot.objects.filter(trial__part__in=parts).values("audio"),
        CompTrack.objects.filter(part__in=parts).values("audio"),
        LayerTrack.objects.filter(layer__part__in=parts).values("audio"),
    ]
    if isinstance(row, Song):
        pointing.append(Backing.objects.filter(song=row).values("audio"))
        pointing += [Balance.objects.filter(song=row).values(name) for name in ("before", "after")]
    return {audio for ids in pointing for audio in AudioFile.objects.filter(pk__in=ids)}
