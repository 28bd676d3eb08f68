"""Comp: the best phrases of several takes joined into one track, each seam chosen and judged."""

from pneumen.core.comp.document import Comp, CompPhrase, CompTake, comp_from_json
from pneumen.core.comp.render import BITS, JoinedTakes, join_takes
from pneumen.core.comp.seams import Seam

__all__ = [
    "BITS",
    "Comp",
    "CompPhrase",
    "CompTake",
    "JoinedTakes",
    "Seam",
    "comp_from_json",
    "join_takes",
]
