"""What is chosen at a joint and belongs to a part: its pad, booster or DI box, and when it is recorded."""

from collections.abc import Callable

from django.db import transaction

from pneumen.core.errors import Contradiction
from pneumen.core.hookup import FIXED_PADS, OF_A_PART, Choice
from pneumen.core.kit import Item, cheapest_of, kind_of_pad, pad_set_to, pads_like
from pneumen.web.kit.needs import gear_of_song
from pneumen.web.kit.services import plan_song
from pneumen.web.part.models import Part
from pneumen.web.part.services import keep as keep_part
from pneumen.web.song.services import MOST_SESSIONS
from pneumen.wording.language import _

FIELDS = {"pad": "bought_pad", "booster": "bought_booster", "box": "bought_box"}
GEAR = (*FIELDS, "pad-db")
"""What is put before a part's input, or set there."""


def is_of_a_part(choice: Choice, part: Part | None) -> bool:
    """Tell whether a choice changes the gear of a part; a DI box on no part's way belongs to the chain alone."""
    return choice.what in OF_A_PART or (choice.what == "box" and part is not None)


@transaction.atomic
def set_gear(part: Part, choice: Choice) -> None:
    """Put a pad, a booster or a DI box before a part's input or take it out, set its pad, or record it by itself.

    Raises:
        Contradiction: where no catalogue has such a thing, or every session is taken.
    """
    if choice.what == "apart":
        _record_apart(part)
        return
    if choice.what == "pad-db":
        _set_pad(part, float(choice.value))
        return
    field = FIELDS[choice.what]
    item = _wanted(part, choice)
    setattr(part, field, item.id if item else "")
    part.gear_by_hand = sorted({*part.gear_by_hand, field})
    if choice.value in FIXED_PADS:  # what is owned may have a control: it is set to as much
        part.pad_db = float(choice.value)
    part.save(update_fields=[field, "gear_by_hand", "pad_db"])


@transaction.atomic
def plan_gear(part: Part, what: str) -> None:
    """Let the plan decide again what stands before a part's input; a pad's control goes back to its weakest."""
    if what == "pad-db":
        part.pad_db = None
        part.save(update_fields=["pad_db"])
        return
    part.gear_by_hand = [one for one in part.gear_by_hand if one != FIELDS[what]]
    setattr(part, FIELDS[what], "")
    part.save(update_fields=["gear_by_hand", FIELDS[what]])
    plan_song(part.song)


def chosen_gear(part: Part) -> tuple[str, ...]:
    """Return what of a part's gear was chosen by hand."""
    chosen = tuple(what for what, field in FIELDS.items() if field in part.gear_by_hand)
    is_set = part.pad_db is not None and part.strongest_pad_db is not None
    return (*chosen, "pad-db") if is_set else chosen


def now_of(part: Part, what: str) -> str:
    """Return what is chosen of a part's gear, as a choice's value."""
    match what:
        case "pad-db":
            return f"{-(part.pad.gain_db or 0.0):g}" if part.pad else ""
        case "pad":
            return kind_of_pad(part.pad_as_sold) if part.pad_as_sold else "none"
        case "booster":
            return "on" if part.booster else "off"
        case _:
            return "none" if part.box is None else "active" if part.box.active else "passive"


def _wanted(part: Part, choice: Choice) -> Item | None:
    if choice.value in ("none", "off"):
        return None
    kind, fits = _asked(choice)
    owned, catalogue = gear_of_song(part.song)
    item = cheapest_of(kind, owned, catalogue, fits)
    if item is None:
        raise Contradiction(choice.what, _("is in no catalogue of yours: add one under Gear"))
    return item


def _asked(choice: Choice) -> tuple[str, Callable[[Item], bool]]:
    if choice.what == "pad":
        return "inline-pad", pads_like(choice.value)
    if choice.what == "booster":
        return "booster", lambda item: True
    return "di-box", lambda item: (item.active is True) == (choice.value == "active")


def _set_pad(part: Part, takes_db: float) -> None:
    """Set a pad's control to its weakest setting that takes as much."""
    sold = part.pad_as_sold
    if sold is None or part.strongest_pad_db is None:
        raise Contradiction("pad-db", _("needs a stepped or a variable pad before the input: choose one first"))
    part.pad_db = -(pad_set_to(sold, takes_db).gain_db or 0.0)
    part.save(update_fields=["pad_db"])


def _record_apart(part: Part) -> None:
    taken = set(part.song.parts.exclude(pk=part.pk).values_list("session", flat=True))
    free = next((number for number in range(1, MOST_SESSIONS + 1) if number not in taken), None)
    if free is None:
        raise Contradiction(
            "session",
            _("all {most_sessions} sessions are taken: put some parts together").format(most_sessions=MOST_SESSIONS),
        )
    keep_part(part, {}, {"session": free})
