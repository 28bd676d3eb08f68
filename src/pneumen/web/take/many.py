"""Many recordings at once: each goes to the part and section its name tells of, the oldest first."""

from collections.abc import Sequence
from contextlib import ExitStack
from dataclasses import dataclass
from datetime import datetime
from typing import Final

from django.db import transaction

from pneumen.core.errors import PneumenError
from pneumen.core.take import NamedPart, match_of, stamp_of
from pneumen.web.audio.services import Incoming, Sent, received
from pneumen.web.part.models import Part
from pneumen.web.take.models import Take
from pneumen.web.take.services import take_in

LIBSNDFILE: Final = {"wav", "wave", "bwf", "rf64", "aif", "aiff", "flac", "ogg", "mp3"}
PHONES: Final = {"m4a", "mp4", "3gp", "aac", "amr", "webm"}
"""What a recording folder holds beside these is none of ours: project files, pictures, notes."""


@dataclass(frozen=True, slots=True, kw_only=True)
class TakenIn:
    """What became of one file: its take, or what is wrong with it; neither where it is no recording."""

    name: str
    take: Take | None = None
    problem: str = ""


def is_recording_by_name(name: str) -> bool:
    """Return whether a file is taken for a recording; hidden files are none."""
    plain = name.replace("\\", "/").rsplit("/", 1)[-1]
    return not plain.startswith(".") and plain.rsplit(".", 1)[-1].lower() in LIBSNDFILE | PHONES


def take_in_many(part: Part, sent: Sequence[tuple[str, Sent]]) -> tuple[TakenIn, ...]:
    """Store some recordings, each with its part: what is wrong with one keeps none of the others out.

    Args:
        part: where those go whose names tell of no part.
        sent: name and content of each; two may have one name.
    """
    parts = list(Part.objects.whole().filter(song=part.song_id))
    found: list[TakenIn] = []
    with ExitStack() as open_files:
        here: list[tuple[str, Incoming]] = []
        for name, content in sent:
            if not is_recording_by_name(name):
                found.append(TakenIn(name=name))
                continue
            try:
                here.append((name, open_files.enter_context(received(content))))
            except PneumenError as error:
                found.append(TakenIn(name=name, problem=f"{error}."))
        for name, incoming in sorted(here, key=_when):
            found.append(_one(part, parts, name, incoming))
    return tuple(found)


def _when(one: tuple[str, Incoming]) -> tuple[datetime, str]:
    stamp = stamp_of(one[1].path)
    return (stamp and stamp.begun_at) or datetime.max, one[0]  # what tells no time comes last, by name


def _one(part: Part, parts: Sequence[Part], name: str, incoming: Incoming) -> TakenIn:
    belongs_to, section = part_for(name, part, parts)
    try:
        with transaction.atomic():
            return TakenIn(name=name, take=take_in(belongs_to, name, incoming, section))
    except PneumenError as error:
        return TakenIn(name=name, problem=f"{error}.")


def section_for(name: str, part: Part) -> str:
    """Return the section of a part that a file's name tells of."""
    return match_of(name, [_named(part)], 0).section


def part_for(name: str, part: Part, parts: Sequence[Part]) -> tuple[Part, str]:
    """Return the part and section that a file's name tells of, or else the part in hand."""
    usual = next((number for number, one in enumerate(parts) if one.pk == part.pk), None)
    match = match_of(name, [_named(one) for one in parts], usual)
    return (part if match.part is None else parts[match.part]), match.section


def _named(part: Part) -> NamedPart:
    facts = part.source_facts
    return NamedPart(
        name=part.name, others=(part.source, facts.performer), sections=tuple(one.name for one in part.core_sections)
    )
