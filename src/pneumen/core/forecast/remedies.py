"""What is in the way where neither distance nor gain mends it, and what helps all the same and costs nothing."""

from typing import Final

from pneumen.core.forecast.advise import Advice
from pneumen.core.part import LEAST_APART_DB
from pneumen.core.setup import PluggedChain, RecorderChain, UsbChain
from pneumen.core.verdict import Verdict

CONFLICTS: Final = ("pops", "bass", "room", "sway", "overload", "too-low", "too-high", "noise")
REASON_CONFLICTS: Final = {
    "noisy": "noise",
    "below": "too-low",
    "too-quiet": "too-low",
    "above": "too-high",
    "near-ceiling": "overload",
    "clips": "overload",
    "unsure": "overload",
}
"""What stands in the way where the verdict is a hair beyond what is felt."""
FREE: Final = {
    "pops": ("beside-the-mouth", "stocking"),
    "room": ("soft-things", "softer-room"),
    "overload": ("soft-things-and-back", "turn-aside", "pad"),
    "too-low": ("lift-afterwards",),
    "too-high": ("turn-aside",),
    "noise": ("another-hour", "appliances-off", "computer-away"),
}
"""What costs nothing and helps all the same, the best first (common practice, no source)."""


def conflict_of(advice: Advice) -> str:
    """Return what is in the way where nothing is left to do and yet not all is clear; "" where nothing is."""
    verdict = advice.before.gain_verdict
    if advice.actions or verdict.verdict == Verdict.CLEAR:
        return ""
    conflict = REASON_CONFLICTS.get(verdict.reason, "") or advice.recommended.conflict
    return conflict if conflict in CONFLICTS else ""


def free_remedies(advice: Advice, *, rise_db: float = 0.0) -> tuple[str, ...]:
    """Return what helps against the conflict and costs nothing, the best first.

    Args:
        rise_db: how far the loudest section stands over the others: one apart can be recorded by itself.
    """
    conflict, chain = conflict_of(advice), advice.before.setup.chain
    if isinstance(chain, PluggedChain):
        return {"too-low": ("instrument-up",), "too-high": ("instrument-down",)}.get(conflict, ())
    found = FREE.get(conflict, ())
    loud = conflict in ("overload", "too-high")
    if loud and rise_db >= LEAST_APART_DB:
        found = ("section-apart", *found)
    by_computer = isinstance(chain, UsbChain) and not isinstance(chain, RecorderChain) and not chain.slider
    if by_computer and conflict in ("too-low", "too-high"):
        found = ("input-slider", *found)
    return found
