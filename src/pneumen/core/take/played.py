"""What is known of a source before its take is measured: words, strings that ring on, a driven amplifier."""

from dataclasses import dataclass
from typing import Final, Self

from pneumen.core.part import Source

SPEECH: Final = "spoken-word"
DAMPED: Final = ("accordion", "hand-drum", "shaker", "tambourine", "snare-drum")


@dataclass(frozen=True, slots=True, kw_only=True)
class Played:
    """driven: it may be distorted on purpose. words: whether words are spoken or sung. rings: whether it rings on by
    itself, as strings and bells do. None where that is not known. spoken: it is speech, and not sung."""

    driven: bool = False
    words: bool | None = None
    rings: bool | None = None
    spoken: bool = False

    @classmethod
    def of(cls, source: Source) -> Self:
        """Return what a source's kind tells."""
        sings = source.group == "voice"
        stops = sings or source.group == "winds" or source.slug in DAMPED
        return cls(driven=source.may_be_driven, words=sings, rings=not stops, spoken=source.slug == SPEECH)


ANYTHING: Final = Played()
"""Nothing is known of what was played."""
