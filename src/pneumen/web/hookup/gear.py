"""What is chosen at a joint and belongs to a part: its pad, booster or DI box, and when it is recorded."""

from collections.abc import Callable

from django.db import transaction

from pneumen.core.errors import Contradiction
from pneumen.core.hookup import OF_A_PART, Choice
from pneumen.core.kit import Item, cheapest_of
from pneumen.web.kit.needs import gear_of_song
from pneumen.web.kit.services import plan_song
from pneumen.web.part.models import Part
from pneumen.web.part.services import keep as keep_part
from pneumen.web.song.services import MOST_SESSIONS

FIELDS = {"pad": "bought_pad", "booster": "bought_booster", "box": "bought_box"}


def is_of_a_part(choice: Choice, part: Part | None) -> bool:
    """Tell whether a choice changes the gear of a part; a DI box on no part's way belongs to the chain alone."""
    return choice.what in OF_A_PART or (choice.what == "box" and part is not None)


@transaction.atomic
def set_gear(part: Part, choice: Choice) -> None:
    """Put a pad, a booster or a DI box before a part's input or take it out, or record the part by itself.

    Raises:
        Contradiction: where no catalogue has such a thing, or every session is taken.
    """
    if choice.what == "apart":
        _record_apart(part)
        return
    field = FIELDS[choice.what]
    item = _wanted(part, choice)
    setattr(part, field, item.id if item else "")
    part.gear_by_hand = sorted({*part.gear_by_hand, field})
    part.save(update_fields=[field, "gear_by_hand"])


@transaction.atomic
def plan_gear(part: Part, what: str) -> None:
    """Let the plan decide again what stands before a part's input."""
    part.gear_by_hand = [one for one in part.gear_by_hand if one != FIELDS[what]]
    setattr(part, FIELDS[what], "")
    part.save(update_fields=["gear_by_hand", FIELDS[what]])
    plan_song(part.song)


def now_of(part: Part, what: str) -> str:
    """Return what is chosen of a part's gear, as a choice's value."""
    match what:
        case "pad":
            return f"{-(part.pad.gain_db or 0.0):g}" if part.pad else "none"
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
        raise Contradiction(choice.what, "is in no catalogue of yours: add one under Gear")
    return item


def _asked(choice: Choice) -> tuple[str, Callable[[Item], bool]]:
    if choice.what == "pad":
        return "inline-pad", lambda item: item.gain_db == -float(choice.value)
    if choice.what == "booster":
        return "booster", lambda item: True
    return "di-box", lambda item: (item.active is True) == (choice.value == "active")


def _record_apart(part: Part) -> None:
    taken = set(part.song.parts.exclude(pk=part.pk).values_list("session", flat=True))
    free = next((number for number in range(1, MOST_SESSIONS + 1) if number not in taken), None)
    if free is None:
        raise Contradiction("session", f"all {MOST_SESSIONS} sessions are taken: put some parts together")
    keep_part(part, {}, {"session": free})
