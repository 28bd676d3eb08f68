"""What is known of a source before its take is measured: words, strings that ring on, a driven amplifier."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final, Self

from pneumen.core.part import Source
from pneumen.core.room import is_dry_enough

SPEECH: Final = "spoken-word"
DAMPED: Final = ("accordion", "hand-drum", "shaker", "tambourine", "snare-drum")


@dataclass(frozen=True, slots=True, kw_only=True)
class Played:
    """driven: it may be distorted on purpose. words: whether words are spoken or sung. rings: whether it rings on by
    itself, as strings and bells do. None where that is not known. spoken: it is speech, and not sung. room_s: the
    reverberation time of a room that was to lie far enough under it; None where it is not known, or was not to."""

    driven: bool = False
    words: bool | None = None
    rings: bool | None = None
    spoken: bool = False
    room_s: float | None = None

    @classmethod
    def of(cls, source: Source, *, rt60_s: float | None = None, lead_db: float | None = None) -> Self:
        """Return what a source's kind tells, and its room as it was predicted: how long it rings, how far the direct
        sound leads it."""
        sings = source.group == "voice"
        stops = sings or source.group == "winds" or source.slug in DAMPED
        fits = lead_db is not None and is_dry_enough(lead_db, source.dry_enough_db)
        return cls(
            driven=source.may_be_driven,
            words=sings,
            rings=not stops,
            spoken=source.slug == SPEECH,
            room_s=rt60_s if fits else None,
        )

    @classmethod
    def joined(cls, takes: Sequence[Self]) -> Self:
        """Return what is known of takes of one source that were joined: a room is told only where all of theirs are."""
        rooms_s = [one.room_s for one in takes if one.room_s is not None]
        return replace(takes[0], room_s=min(rooms_s) if len(rooms_s) == len(takes) else None)


ANYTHING: Final = Played()
"""Nothing is known of what was played."""
