"""Names of delivered files: safe on every system, in any script, in order, none like another."""

import re
import unicodedata
from typing import Final

MOST_BYTES: Final = 180
"""File systems end at 255 bytes, and a copy may be named longer."""
FORBIDDEN: Final = re.compile(r'[<>:"/\\|?*\x00-\x1f\x7f]+')
UNNAMED: Final = "File"


def safe_name(name: str) -> str:
    """Return a name that every file system takes: letters of any script stay, what separates folders becomes a dash.

    >>> safe_name("Lead / voice: take 3?")
    'Lead - voice- take 3'
    """
    plain = "".join(
        character
        for character in unicodedata.normalize("NFC", name)
        if unicodedata.category(character)[0] != "C" or character in "\t\n"
    )
    plain = " ".join(FORBIDDEN.sub("-", plain).split()).strip(" .-")
    while len(plain.encode()) > MOST_BYTES:
        plain = plain[:-1]
    return plain.strip(" .-") or UNNAMED


def delivered_names(names: tuple[str, ...], ending: str) -> tuple[str, ...]:
    """Return the file names of a delivery: `NN name.ending`, numbered in their order."""
    digits = max(2, len(str(len(names))))
    return tuple(f"{number:0{digits}} {safe_name(name)}.{ending}" for number, name in enumerate(names, start=1))
