"""Keeping a part's sections, its role, and how often it is doubled."""

from collections.abc import Iterable, Iterator, Mapping
from typing import Any

from django.db import transaction

from pneumen.core.errors import UnknownName, require_within
from pneumen.core.kit import DEAREST
from pneumen.core.part import FASTEST_BPM, ROLES, SLOWEST_BPM, USUAL_SECTIONS, find_tempo
from pneumen.core.part import Section as CoreSection
from pneumen.core.take import open_recording
from pneumen.web.audio.services import Sent, received, release
from pneumen.web.audio.services import keep as keep_audio
from pneumen.web.kit.services import plan_song
from pneumen.web.part.models import Backing, Part, Section
from pneumen.web.song.models import Song
from pneumen.web.song.services import MOST_SESSIONS

MOST_SECTIONS = 40
MOST_DOUBLES = 12
MOST_WORDS = 4000


def set_sections(rows: Iterable[Section], changes: Mapping[int, Mapping[str, Any]]) -> list[Section]:
    """Change sections that are not stored thereby, by their ids; return the rows that changed.

    Raises:
        OutOfRange, Contradiction: naming what cannot be.
    """
    changed = [row for row in rows if row.pk in changes]
    for row in changed:
        for name, value in changes[row.pk].items():
            setattr(row, name, value)
        row.to_core()  # refuses what cannot be
    return changed


@transaction.atomic
def keep(part: Part, sections: Mapping[int, Mapping[str, Any]], options: Mapping[str, Any]) -> None:
    """Store what was changed of the sections and of the part itself.

    Args:
        options: any of role, doubles and session.

    Raises:
        OutOfRange, UnknownName, Contradiction: naming what cannot be.
    """
    if options.get("role", part.role) not in ROLES:
        raise UnknownName("role", options["role"], ROLES)
    for name, low, high in (("doubles", 0, MOST_DOUBLES), ("session", 1, MOST_SESSIONS)):
        if name in options:
            require_within(name, options[name], low, high)
    for row in set_sections(part.sections.all(), sections):
        row.save(update_fields=list(sections[row.pk]))
    for name, value in options.items():
        setattr(part, name, value)
    if options:
        part.save(update_fields=list(options))
    if "session" in options:  # what is recorded at once decides how many inputs the kit needs
        plan_song(part.song)


@transaction.atomic
def add(part: Part, name: str) -> None:
    """Add a section at the end: a usual one with its usual bars and loudness, or one of one's own name."""
    number = part.sections.count()
    require_within("sections", number + 1, 1, MOST_SECTIONS)
    usual = {one: (bars, loudness_db) for one, bars, loudness_db in USUAL_SECTIONS}
    bars, loudness_db = usual.get(name, (8, 0.0))
    core = CoreSection(name=name[:60], bars=bars, loudness_db=loudness_db)
    Section.objects.create(
        owner=part.owner, part=part, name=core.name, bars=core.bars, loudness_db=core.loudness_db, position=number
    )


@transaction.atomic
def add_usual(part: Part) -> None:
    """Add verse, chorus, verse, bridge, chorus: the shape to start from."""
    for name in ("Verse", "Chorus", "Verse", "Bridge", "Chorus"):
        add(part, name)


@transaction.atomic
def move(part: Part, section_id: int, by: int) -> None:
    """Move a section one place earlier or later."""
    rows = list(part.sections.all())
    place = next((n for n, row in enumerate(rows) if row.pk == section_id), None)
    if place is None:
        return
    rows.insert(min(max(place + by, 0), len(rows) - 1), rows.pop(place))
    for position, row in enumerate(rows):
        row.position = position
        row.save(update_fields=["position"])


def remove(part: Part, section_id: int) -> None:
    part.sections.filter(pk=section_id).delete()


LONGEST_BLOCK = 1 << 16


def take_in_backing(song: Song, name: str, sent: Sent) -> Backing:
    """Store a backing track with its tempo, if one is found: file and row together, or neither; an older one goes.

    Raises:
        UnreadableFile: where it is no recording that can be read.
    """
    with received(sent) as incoming:
        with open_recording(incoming.path) as recording:
            rate_hz, channels = recording.sample_rate_hz, recording.channels
            tempo = find_tempo((block.mean(axis=0) for block in recording.blocks(_edges(recording.frames))), rate_hz)
            duration_s = recording.frames / rate_hz
        with transaction.atomic():
            remove_backing(song)
            return Backing.objects.create(
                owner=song.owner,
                song=song,
                original_name=name.replace("\\", "/").rsplit("/", 1)[-1].strip()[:200] or "backing",
                audio=keep_audio(song.owner, incoming),
                sample_rate_hz=rate_hz,
                channels=channels,
                duration_s=duration_s,
                tempo_bpm=round(tempo.bpm, 2) if tempo else None,
                tempo_found=tempo is not None,
                zero_s=round(tempo.first_beat_s, 3) if tempo else 0.0,
            )


def _edges(frames: int) -> Iterator[int]:
    yield from range(LONGEST_BLOCK, frames, LONGEST_BLOCK)
    yield frames


def keep_backing(backing: Backing, *, tempo_bpm: float | None, zero_s: float) -> None:
    """Store a tempo and time zero as typed; half and double of what is ever found are allowed."""
    if tempo_bpm is not None:
        require_within("tempo", tempo_bpm, SLOWEST_BPM / 2, min(2 * FASTEST_BPM, 400))
    require_within("zero", zero_s, 0, backing.duration_s)
    backing.tempo_found = backing.tempo_found and tempo_bpm == backing.tempo_bpm
    backing.tempo_bpm, backing.zero_s = tempo_bpm, zero_s
    backing.save(update_fields=["tempo_bpm", "tempo_found", "zero_s"])


@transaction.atomic
def remove_backing(song: Song) -> None:
    for backing in Backing.objects.filter(song=song).select_related("audio"):
        backing.delete()
        release(backing.audio)


def keep_instrument_price(part: Part, price: float) -> None:
    """Store what a plugged instrument cost: what a DI box is worth is told by it.

    Raises:
        OutOfRange: naming the field.
    """
    require_within("instrument_price", price, 0, DEAREST)
    part.instrument_price = price
    part.save(update_fields=["instrument_price"])
