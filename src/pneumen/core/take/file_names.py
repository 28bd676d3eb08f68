"""Which part and which section a file belongs to, by its name."""

import re
import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

WORD: Final = re.compile(r"[^\W\d_]+|\d+")


@dataclass(frozen=True, slots=True, kw_only=True)
class NamedPart:
    """A part as file names may call it: its name, other words for it, and its sections' names."""

    name: str
    others: tuple[str, ...] = ()
    sections: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Match:
    """Index of the part a file belongs to and the section's name; None and "" where its name does not tell."""

    part: int | None
    section: str


def match_of(file_name: str, parts: Sequence[NamedPart], usual: int | None = None) -> Match:
    """Return which part and section a file's name tells of.

    The longest name counts whose words all stand together in the file's; two parts of the same merit are no answer.

    Args:
        usual: the part whose sections are sought where the name tells of no part.

    >>> voice = NamedPart(name="Lead voice", others=("singer",), sections=("Verse 1", "Chorus"))
    >>> match_of("03_Lead-Voice_chorus_take2.wav", [voice, NamedPart(name="Harp")])
    Match(part=0, section='Chorus')
    """
    words = _words(file_name.rsplit(".", 1)[0])
    merits = [max(_merit(words, name) for name in (part.name, *part.others)) for part in parts]
    best = max(merits, default=0)
    part = merits.index(best) if best and merits.count(best) == 1 else None
    asked = usual if part is None else part
    sections = () if asked is None else parts[asked].sections
    return Match(part=part, section=_section(words, sections))


def _section(words: list[str], sections: Sequence[str]) -> str:
    merits = [_merit(words, section) for section in sections]
    best = max(merits, default=0)
    return sections[merits.index(best)] if best and merits.count(best) == 1 else ""


def _merit(words: list[str], name: str) -> int:
    """Return how many letters of a name stand in words one after the other; 0 where not all do."""
    wanted = _words(name)
    if not wanted:
        return 0
    runs = (words[start : start + len(wanted)] for start in range(len(words) - len(wanted) + 1))
    return sum(map(len, wanted)) if any(run == wanted for run in runs) else 0


def _words(text: str) -> list[str]:
    """Return the words and numbers of a name in small letters without accents; 2 and 02 are one number."""
    plain = "".join(one for one in unicodedata.normalize("NFKD", text) if not unicodedata.combining(one))
    spaced = re.sub(r"([a-z])([A-Z])", r"\1 \2", plain)
    return [str(int(word)) if word.isdigit() else word.casefold() for word in WORD.findall(spaced)]
