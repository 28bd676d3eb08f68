"""Comp: the best phrases of several takes joined into one track, each seam chosen and judged."""

from pneumen.core.comp.changes import audible_changes, gains_undone_db, usual_level_db
from pneumen.core.comp.cleanup import CLEANUPS, ROOM, SILENCE, Kept, kept_of
from pneumen.core.comp.document import Comp, CompPhrase, CompTake, comp_from_json
from pneumen.core.comp.ground import (
    LineFigures,
    TakeFile,
    TakeGround,
    first_of,
    lay_takes,
    line_figures,
    warp_of,
)
from pneumen.core.comp.offsets import EAR, SOURCES, TakeOffset, take_offset
from pneumen.core.comp.proposal import (
    REASONS,
    Candidate,
    LineChoice,
    PunchLine,
    path_cost,
    propose,
    punch_list,
)
from pneumen.core.comp.render import BITS, JoinedTakes, join_takes
from pneumen.core.comp.seams import Seam
from pneumen.core.comp.tighten import Shift, shifts_for, tightened
from pneumen.core.comp.vote import (
    HOP_S,
    Span,
    lay_bars,
    lay_lines,
    levels_in_song,
    phrases_by_vote,
    sounding,
    sounds_in,
    weight_of,
)
from pneumen.core.comp.warp import ANOTHER_TEMPO, Warp, warp_between

__all__ = [
    "ANOTHER_TEMPO",
    "BITS",
    "CLEANUPS",
    "EAR",
    "HOP_S",
    "REASONS",
    "ROOM",
    "SILENCE",
    "SOURCES",
    "Candidate",
    "Comp",
    "CompPhrase",
    "CompTake",
    "JoinedTakes",
    "Kept",
    "LineChoice",
    "LineFigures",
    "PunchLine",
    "Seam",
    "Shift",
    "Span",
    "TakeFile",
    "TakeGround",
    "TakeOffset",
    "Warp",
    "audible_changes",
    "comp_from_json",
    "first_of",
    "gains_undone_db",
    "join_takes",
    "kept_of",
    "lay_bars",
    "lay_lines",
    "lay_takes",
    "levels_in_song",
    "line_figures",
    "path_cost",
    "phrases_by_vote",
    "propose",
    "punch_list",
    "shifts_for",
    "sounding",
    "sounds_in",
    "take_offset",
    "tightened",
    "usual_level_db",
    "warp_between",
    "warp_of",
    "weight_of",
]
