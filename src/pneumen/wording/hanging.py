"""What hangs with a kit, in sentences: of one's own and of what is bought, and what it does."""

from collections import Counter
from typing import Final

from pneumen.core.kit import Hanging, Textile
from pneumen.core.room import material_named
from pneumen.wording.figures import figure
from pneumen.wording.language import _

HANGS: Final = _("With this kit {own} of your own and {bought} of the kit hang: {gain} dB; {lead} dB in all.")
COUNTED_IN: Final = _(
    "Counted as hung: {things} of your own, {gain} dB more over the room. Room shows where each does most."
)
SEVERAL: Final = _("{count} × {name}")


def hanging_told(hanging: Hanging, lead_db: float) -> str:
    """Say how many pieces hang with a kit, and what they do to the room."""
    own = sum(textile.count for textile in hanging.textiles)
    return HANGS.format(own=own, bought=len(hanging.pieces), gain=figure(hanging.gain_db, 1), lead=figure(lead_db))


def own_hung_told(hanging: Hanging) -> str:
    """Say which of one's own soft things a kit's figures count as hung; nothing where there is none."""
    counted: Counter[str] = Counter()
    for textile in hanging.textiles:
        counted[_name(textile)] += textile.count
    if not counted:
        return ""
    things = [SEVERAL.format(count=count, name=name) if count > 1 else name for name, count in counted.items()]
    return COUNTED_IN.format(things=", ".join(things), gain=figure(hanging.gain_db, 1))


def _name(textile: Textile) -> str:
    """What it is called, without how it is taken to hang."""
    return material_named(textile.material).label.split(",")[0].lower()
