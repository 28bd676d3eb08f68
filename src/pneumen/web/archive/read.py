"""Reading a song's archive: checked whole before anything is stored, and all of it stored or nothing."""

import json
import zipfile
from collections.abc import Iterator
from contextlib import ExitStack
from pathlib import Path
from typing import Any, Final

from django.conf import settings
from django.core.exceptions import ValidationError
from django.db import IntegrityError, models, transaction

from pneumen.core.errors import BadDocument, PneumenError
from pneumen.web.archive.rows import (
    AUDIO,
    DOCUMENT,
    FORMAT,
    KEYED,
    OF_SONG,
    ON_BOTH,
    VERSION,
    fields_of,
    is_audio,
    model_of,
    moved_key,
    rows_of,
)
from pneumen.web.audio.models import AudioFile
from pneumen.web.audio.services import Incoming, Owner, keep, received
from pneumen.web.job.models import Job, Worked
from pneumen.web.part.models import Part
from pneumen.web.send.show import send_screen
from pneumen.web.settle import outcome_of
from pneumen.web.site.backup import is_recording
from pneumen.web.song.models import Song
from pneumen.web.take.models import Take
from pneumen.wording.language import _

MOST_DOCUMENT_BYTES: Final = 200_000_000
MOST_ROWS: Final = 200_000
BLOCK: Final = 1 << 20
AFTERWARDS: Final = (("place.Trial", "chosen"),)
"""What points forward: filled in once both rows are there."""
Numbers = dict[tuple[str, int], int]


class NoArchive(BadDocument):
    """A file is no song's archive, or not a sound one."""


def read_archive(owner: Owner, path: Path) -> Song:
    """Store the song that an archive holds, as a song of its own; nothing is stored where anything is wrong with it.

    Raises:
        NoArchive: naming what is wrong and what would be right.
    """
    try:
        with zipfile.ZipFile(path) as archive, ExitStack() as opened:
            document = _document(archive)
            incoming = {
                checksum: _taken_out(archive, checksum, size, opened) for checksum, size in document["audio"].items()
            }
            return _stored(owner, document, incoming)
    except (zipfile.BadZipFile, EOFError, NotImplementedError, RuntimeError) as error:
        raise NoArchive(
            _("this is no song’s archive, or is cut short ({error}): export the song anew").format(error=error)
        ) from None


def _document(archive: zipfile.ZipFile) -> dict[str, Any]:
    names = archive.namelist()
    if DOCUMENT not in names:
        raise NoArchive(
            _("this archive holds no {document}: choose a file that Pneumen’s Export wrote").format(document=DOCUMENT)
        )
    if archive.getinfo(DOCUMENT).file_size > MOST_DOCUMENT_BYTES:
        raise NoArchive(_("its {document} is too large to be one").format(document=DOCUMENT))
    try:
        document = json.loads(b"".join(_blocks(archive, DOCUMENT, MOST_DOCUMENT_BYTES)))
        told, version = document["format"], int(document["version"])
        rows, audio = document.get("rows"), document.get("audio")
    except (ValueError, KeyError, TypeError, AttributeError, RecursionError):
        raise NoArchive(_("its {document} is damaged: export the song anew").format(document=DOCUMENT)) from None
    if told != FORMAT:
        raise NoArchive(_("this is an archive of something else: choose a file that Pneumen’s Export wrote"))
    if version > VERSION:
        newer = _("it was written by a newer Pneumen (format {version}, this one reads up to {version_2})").format(
            version=version, version_2=VERSION
        )
        raise NoArchive(_("{newer}: update this one first").format(newer=newer))
    if not isinstance(rows, list) or not isinstance(audio, dict) or len(rows) > MOST_ROWS:
        raise NoArchive(_("its {document} is damaged: export the song anew").format(document=DOCUMENT))
    wrong = [checksum for checksum, size in audio.items() if not is_recording(checksum) or type(size) is not int]
    if wrong or sorted(names) != sorted([DOCUMENT, *(f"{AUDIO}{checksum}" for checksum in audio)]):
        raise NoArchive(_("it holds other files than it tells of: export the song anew"))
    if sum(audio.values()) > settings.MOST_UPLOAD_BYTES:
        raise NoArchive(_("its recordings are more than are taken in at once: bring the whole data over by a backup"))
    return {"rows": rows, "audio": audio, "version": version}


def _blocks(archive: zipfile.ZipFile, name: str, most: int) -> Iterator[bytes]:
    """Yield a file block by block, never more than was told: what unpacks to more is no archive of ours."""
    left = most
    with archive.open(name) as inside:
        while block := inside.read(min(BLOCK, left + 1)):
            left -= len(block)
            if left < 0:
                raise NoArchive(_("{name} is larger than it says: export the song anew").format(name=name))
            yield block


def _taken_out(archive: zipfile.ZipFile, checksum: str, size: int, opened: ExitStack) -> Incoming:
    incoming = opened.enter_context(received(_blocks(archive, f"{AUDIO}{checksum}", size)))
    if incoming.checksum != checksum:
        raise NoArchive(
            _("the recording {checksum}… is not what was written: export the song anew").format(checksum=checksum[:12])
        )
    return incoming


@transaction.atomic
def _stored(owner: Owner, document: dict[str, Any], incoming: dict[str, Incoming]) -> Song:
    audio = {checksum: keep(owner, one) for checksum, one in incoming.items()}
    by_kind: dict[str, list[tuple[int, dict[str, Any]]]] = {label: [] for label, _rest in OF_SONG}
    for row in document["rows"]:
        if not _is_row(row) or row["kind"] not in by_kind:
            raise NoArchive(_("it holds a row of an unknown kind: it was written by another Pneumen, or is damaged"))
        by_kind[row["kind"]].append((row["number"], row["values"]))
    numbers: Numbers = {}
    for label, _rest in OF_SONG:
        for number, values in by_kind[label]:
            moved = _with_keys(label, values, numbers)
            if moved is not None and document["version"] < VERSION:
                moved = _defaults(model_of(label)) | moved
            if moved is not None:
                _store(owner, label, number, moved, numbers, audio)
    _point_forward(by_kind, numbers)
    songs = [number for label, number in numbers if label == "song.Song"]
    if len(songs) != 1:
        raise NoArchive(_("it holds no song, or several: export the song anew"))
    song = Song.objects.get(pk=numbers["song.Song", songs[0]])
    _check(song)
    return song


def _with_keys(label: str, values: dict[str, Any], numbers: Numbers) -> dict[str, Any] | None:
    """Return a row's values with the keys of files it names as they are now; None for a row of a file that is not."""
    moved = dict(values)
    for kind, name in KEYED:
        if kind == label and isinstance(values.get(name), str):
            moved[name] = moved_key(values[name], numbers)
            if values[name] and not moved[name] and name == "key":
                return None
    if label == "send.Delivery" and isinstance(values.get("made_of"), list):
        moved["made_of"] = [
            one | {"key": moved_key(str(one["key"]), numbers) or f"gone:{place}"} if _names_a_file(one) else one
            for place, one in enumerate(values["made_of"])
        ]
    return moved


def _defaults(model: Any) -> dict[str, Any]:  # noqa: ANN401
    """Return what a row of an older version has where it tells nothing, of the fields that can be left out."""
    left_out = (
        field
        for field in fields_of(model)
        if field.has_default() or field.null or (field.blank and field.empty_strings_allowed)
    )
    return {field.name: field.get_default() for field in left_out}


def _names_a_file(one: object) -> bool:
    return isinstance(one, dict) and {"key", "name", "source"} <= one.keys()


def _is_row(row: object) -> bool:
    return (
        isinstance(row, dict)
        and isinstance(row.get("kind"), str)
        and isinstance(row.get("number"), int)
        and isinstance(row.get("values"), dict)
    )


def _store(
    owner: Owner,
    label: str,
    number: int,
    values: dict[str, Any],
    numbers: Numbers,
    audio: dict[str, AudioFile],
) -> None:
    model = model_of(label)
    if label == ON_BOTH and model.objects.filter(owner=owner, item_id=values.get("item_id")).exists():
        return
    row, stamps = model(owner=owner), {}
    try:
        for field in fields_of(model):
            if field.name not in values:
                raise NoArchive(
                    _("a {model} tells no {field}: it was written by another Pneumen").format(
                        model=model.__name__, field=field.name
                    )
                )
            setattr(row, field.attname, _value(field, values[field.name], numbers, audio, (label, field.name)))
            if getattr(field, "auto_now_add", False):
                stamps[field.name] = getattr(row, field.attname)
        row.clean_fields(exclude=[field.name for field in model._meta.concrete_fields if field.is_relation])
        row.save(force_insert=True)
        if stamps:
            model.objects.filter(pk=row.pk).update(**stamps)
    except (ValidationError, IntegrityError, ValueError, TypeError, KeyError, OverflowError) as error:
        if isinstance(error, PneumenError):
            raise
        raise NoArchive(_("a {model} in it is damaged: export the song anew").format(model=model.__name__)) from None
    numbers[label, number] = row.pk
    if isinstance(row, Worked):
        Job.objects.create(owner=owner, target=row, state=Worked.DONE)


def _value(
    field: models.Field,
    value: Any,  # noqa: ANN401 - what JSON holds
    numbers: Numbers,
    audio: dict[str, AudioFile],
    place: tuple[str, str],
) -> Any:  # noqa: ANN401
    if is_audio(field):
        return None if value is None else audio[value].pk
    if field.is_relation:
        if value is None or place in AFTERWARDS:
            return None
        found = numbers.get((_label_of(field), value))
        if found is None and not field.null:
            raise NoArchive(
                _("it points to a {field} that is not in it: export the song anew").format(field=_label_of(field))
            )
        return found  # what pointed to something put away points to nothing now
    return field.to_python(value)


def _label_of(field: models.Field) -> str:
    """Return which kind of row a field points to."""
    model: Any = field.related_model
    return str(model._meta.label)


def _point_forward(by_kind: dict[str, list[tuple[int, dict[str, Any]]]], numbers: Numbers) -> None:
    for label, name in AFTERWARDS:
        model = model_of(label)
        target = _label_of(model._meta.get_field(name))
        for number, values in by_kind[label]:
            if values.get(name) is not None:
                found = numbers.get((target, values[name]))
                model.objects.filter(pk=numbers[label, number]).update(**{f"{name}_id": found})


def _check(song: Song) -> None:
    """Have everything worked out once that pages show: what cannot be is not stored."""
    try:
        for part in Part.objects.whole().filter(song=song):
            outcome_of(part)
        for take in Take.objects.filter(part__song=song).select_related("part"):
            for tell in (take.to_core, take.core_correction, take.to_study):
                tell()
            _every = take.doubts, take.settings, take.mendings, take.origin, take.knob, take.trace
        for _rest, row in rows_of(song):
            getattr(row, "to_core", lambda: None)()
        send_screen(song.parts.all()[0])
    except Exception as error:  # whatever it is, this song could never be shown
        raise NoArchive(
            _("what it holds cannot be worked with ({error}): export the song anew").format(error=error)
        ) from error
