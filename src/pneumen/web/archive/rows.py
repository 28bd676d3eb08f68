"""Which rows a song's archive holds: all that hangs on the song, its room and its own gear; nothing of this machine."""

from collections.abc import Iterable, Iterator, Mapping
from typing import Any, Final

from django.apps import apps
from django.db import models

from pneumen.web.audio.models import AudioFile
from pneumen.web.owned import Owned, PutAway
from pneumen.web.part.models import Part
from pneumen.web.song.models import Song

FORMAT: Final = "pneumen-song"
VERSION: Final = 2
DOCUMENT: Final = "song.json"
AUDIO: Final = "audio/"

OF_SONG: Final = (
    ("room.Room", "songs"),
    ("room.Furniture", "room__songs"),
    ("room.Opening", "room__songs"),
    ("room.Covering", "room__songs"),
    ("room.NoiseSource", "room__songs"),
    ("room.Neighbour", "room__songs"),
    ("gear.Microphone", ""),
    ("gear.Interface", ""),
    ("gear.KnobReading", ""),
    ("gear.GearMark", ""),
    ("song.Song", "pk"),
    ("kit.OwnedKind", "song"),
    ("kit.KitMark", "song"),
    ("kit.KitExtra", "song"),
    ("hookup.Choice", "song"),
    ("hookup.CueMix", "song"),
    ("delay.BufferSeen", "song"),
    ("delay.Loop", "song"),
    ("take.Sitting", "song"),
    ("part.Part", "song"),
    ("part.Section", "part__song"),
    ("part.Backing", "song"),
    ("hookup.Tick", "part__song"),
    ("place.Trial", "part__song"),
    ("place.TrialSpot", "trial__part__song"),
    ("live.MinuteCheck", "part__song"),
    ("take.Take", "part__song"),
    ("take.Lesson", "part__song"),
    ("take.Layer", "part__song"),
    ("comp.SheetLine", "part__song"),
    ("comp.LineTake", "line__part__song"),
    ("comp.TakePlace", "take__part__song"),
    ("comp.CompTrack", "part__song"),
    ("comp.LayerTrack", "layer__part__song"),
    ("comp.BalanceItem", "song"),
    ("send.SendPlan", "song"),
    ("send.SendItem", "part__song"),
    ("send.Delivery", ""),
)
"""Every kind of row with the way from it to its song, in the order in which one points to the other."""
NOT_OF_SONG: Final = (
    "audio.AudioFile",  # the recordings are files of the archive
    "audio.Ledger",
    "job.Job",
    "song.Preferences",
    "gear.GearImport",
    "live.InputCheck",
    "take.WatchedFolder",
    "comp.Balance",  # what was heard of it is made again from its settings
)
"""What belongs to this machine or this person and goes with no song."""
ON_BOTH: Final = "gear.GearMark"
"""What a person says of the catalogue: it is brought along where they say nothing of that item yet."""


KEYED: Final = (("comp.BalanceItem", "key"), ("send.SendItem", "into"))
"""Fields that name a file which may be sent by its key: a take's or a track's holds the number of its row."""


def moved_key(key: str, numbers: Mapping[tuple[str, int], int]) -> str:
    """Return a file's key with its row's new number; empty where that row stayed behind."""
    kind, _, number = key.partition(":")
    label = {"take": "take.Take", "track": "part.Part"}.get(kind)
    if label is None:
        return key
    found = numbers.get((label, int(number))) if number.isdecimal() else None
    return f"{kind}:{found}" if found else ""


def model_of(label: str) -> Any:  # noqa: ANN401 - which fields it has is only known once it is there
    return apps.get_model(label)


def rows_of(song: Song) -> Iterator[tuple[str, Owned]]:
    """Yield every row of a song with its kind; what was put away stays behind."""
    for label, way in OF_SONG:
        model = model_of(label)
        rows = model.objects.filter(**{way: song.pk}) if way else _chosen(label, song)
        if issubclass(model, PutAway):
            rows = rows.filter(put_away_day=None)
        for field in model._meta.concrete_fields:  # what hangs on something that was put away stays with it
            if field.is_relation and not field.null and issubclass(field.related_model, PutAway):
                rows = rows.filter(**{f"{field.name}__put_away_day": None})
        yield from ((label, row) for row in rows.order_by("pk").distinct())


def _chosen(label: str, song: Song) -> models.QuerySet:
    parts = Part.objects.filter(song=song)
    interfaces = parts.values("own_interface")
    wanted = {
        "gear.Microphone": lambda: model_of(label).objects.filter(
            models.Q(pk__in=parts.values("own_microphone")) | models.Q(pk__in=parts.values("other_microphone"))
        ),
        "gear.Interface": lambda: model_of(label).objects.filter(pk__in=interfaces),
        "gear.KnobReading": lambda: model_of(label).objects.filter(interface__in=interfaces),
        "gear.GearMark": lambda: model_of(label).objects.filter(owner=song.owner),
        "send.Delivery": lambda: model_of(label).objects.filter(song=song).exclude(manifest=None),
    }
    return wanted[label]()


def told(row: Owned) -> dict[str, Any]:
    """Return a row's own values: of a recording its checksum, of another row its number in the archive."""
    found: dict[str, Any] = {}
    for field in fields_of(type(row)):
        value = field.value_from_object(row)
        if is_audio(field):
            audio = getattr(row, field.name)
            value = audio.checksum if audio else None
        elif isinstance(field, models.BinaryField | models.DateTimeField):
            value = None if value is None else field.value_to_string(row)
        elif not isinstance(value, PLAIN):
            value = field.get_prep_value(value)
        found[field.name] = value
    return found


PLAIN: Final = (str, int, float, bool, list, dict, type(None))


def fields_of(model: type[models.Model]) -> list[models.Field]:
    """Return the fields that travel: not the row's number, its owner, nor when it was put away."""
    left = ("owner", "put_away_day")
    return [field for field in model._meta.concrete_fields if not field.primary_key and field.name not in left]


def is_audio(field: models.Field) -> bool:
    return field.is_relation and field.related_model is AudioFile


def audio_of(rows: Iterable[Owned]) -> dict[str, AudioFile]:
    """Return the recordings that rows point to, by checksum."""
    found = {}
    for row in rows:
        for field in fields_of(type(row)):
            if is_audio(field) and (audio := getattr(row, field.name)) is not None:
                found[audio.checksum] = audio
    return found
