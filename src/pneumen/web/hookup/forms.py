"""What is sent from a joint: about what, where, and what was chosen."""

from collections.abc import Mapping
from typing import Any

from pneumen.core.hookup import CHOICES, Choice
from pneumen.web.fields import LengthField, PickField, StepForm, TextField


class JointForm(StepForm):
    """One choice at one joint; a length comes with its unit, everything else as one of a few words."""

    what = PickField("About", dict.fromkeys(CHOICES, ""))
    at = TextField("Joint", most=120)
    value = TextField("Choice", most=20)
    length = LengthField("Length", far=True)


def choice_from(changes: Mapping[str, Any]) -> Choice | None:
    """Return the choice that was sent; None where none was.

    Raises:
        PneumenError: for what cannot be chosen.
    """
    what, at = changes.get("what", ""), changes.get("at", "")
    value = f"{changes['length']:g}" if changes.get("length") is not None else changes.get("value", "")
    if not (what or at or value):
        return None
    return Choice(what=what, at=at, value=value)
