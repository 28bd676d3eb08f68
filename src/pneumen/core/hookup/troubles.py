"""Silent or noisy: which question or trial comes next, by what it costs on the way to a cure.

Decision-theoretic troubleshooting (Heckerman, Breese and Rommelse, 1995): one fault is looked for at a time; a trial is
worth its odds over its cost, a question what it saves of the expected cost of the trials that follow. An answer shifts
odds and never rules out, for one in ten is wrong.
"""

from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from importlib.resources import files
from typing import Final

import msgspec
import numpy as np

from pneumen.core.errors import UnknownName
from pneumen.core.hookup.chain import Chain

WRONG_SHARE: Final = 0.1
"""So many answers are wrong, and so many trials that should help do not (estimate)."""
OTHER_ODDS: Final = 0.5
OTHER_COST_MIN: Final = 30.0
"""Something else altogether: its odds against the causes, and what it costs to take the chain to another ear."""
EVEN: Final = 0.5
FIRST: Final = "moved"
"""What changed since it last worked is asked before all else (common practice, no source)."""
DANGER: Final = "tingle"
TOUCHING: Final = ("touch-changes", "wiggle", "stays-unplugged")
"""Before one of these is asked, nobody may feel the mains."""
PLACES: Final = ("source", "air", "lead", "input", "data", "program", "ears")
"""Where a fault may sit, from what sounds to what hears."""
SIGNS: Final = {
    "silent": ("silent",),
    "one-side": ("wrong-channels",),
    "distorted": ("clipping",),
    "hum": ("hum",),
    "crackle": ("click", "dropout"),
    "hiss": ("noise",),
}
"""What in a recorded file is a sign of a complaint, the surest first."""
ANSWERS: Final = ("yes", "no", "cannot-tell")


@dataclass(frozen=True, slots=True, kw_only=True)
class Cause:
    """A cause of a complaint: its odds, what its trial costs, where on the way it sits (one of PLACES), which chains
    have it, how likely each question is yes."""

    odds: float
    cost_min: float
    complaint: str
    at: str
    needs: tuple[str, ...] = ()
    yes: dict[str, float]


class _Tables(msgspec.Struct):
    complaints: tuple[str, ...]
    questions: dict[str, float]
    question_needs: dict[str, str]
    causes: dict[str, Cause]


@lru_cache(maxsize=1)
def _tables() -> _Tables:
    return msgspec.json.decode(files("pneumen.core.data").joinpath("troubles.json").read_bytes(), type=_Tables)


COMPLAINTS: Final = _tables().complaints
QUESTIONS: Final[Mapping[str, float]] = _tables().questions
QUESTION_NEEDS: Final[Mapping[str, str]] = _tables().question_needs
"""What a chain must have for a question to apply."""
CAUSES: Final[Mapping[str, Cause]] = _tables().causes


@dataclass(frozen=True, slots=True, kw_only=True)
class Search:
    """A search for a fault: the complaint, what the chain has, what was answered and tried so far, in order.

    tingle is what was answered to the question for danger, "" before it was asked.

    Raises:
        UnknownName: for a complaint, question, answer or cause that is not in the tables.
    """

    complaint: str
    has: frozenset[str]
    answers: tuple[tuple[str, str], ...] = ()
    tried: tuple[str, ...] = ()
    tingle: str = ""

    def __post_init__(self) -> None:
        if self.complaint not in COMPLAINTS:
            raise UnknownName("complaint", self.complaint, COMPLAINTS)
        for question, answer in self.answers:
            if question not in QUESTIONS:
                raise UnknownName("question", question, tuple(QUESTIONS))
            if answer not in ANSWERS:
                raise UnknownName("answer", answer, ANSWERS)
        if self.tingle not in ("", *ANSWERS):
            raise UnknownName("answer", self.tingle, ANSWERS)
        for cause in self.tried:
            if cause not in CAUSES:
                raise UnknownName("trial", cause, tuple(CAUSES))

    def answered(self, question: str, answer: str) -> "Search":
        """Return the search after an answer; the newest to a question holds."""
        if question == DANGER:
            return replace(self, tingle=answer)
        kept = tuple(one for one in self.answers if one[0] != question)
        return replace(self, answers=(*kept, (question, answer)))

    def without(self, question: str) -> "Search":
        """Return the search with an answer taken back."""
        if question == DANGER:
            return replace(self, tingle="")
        return replace(self, answers=tuple(one for one in self.answers if one[0] != question))

    def after_trial(self, cause: str) -> "Search":
        """Return the search after a trial that did not help, and was put back."""
        return replace(self, tried=(*self.tried, cause))


@dataclass(frozen=True, slots=True, kw_only=True)
class Next:
    """What comes next: a question, a trial of a cause, a stop for danger, or another pair of ears ("else").

    odds holds the causes that are still likely, the likeliest first.
    """

    kind: str
    slug: str
    odds: tuple[tuple[str, float], ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Recorded:
    """What a short recording says: the complaints it shows, those it was looked through for, whether it has sound."""

    shows: tuple[str, ...]
    looked_for: tuple[str, ...]
    sounds: bool

    def answers(self, complaint: str) -> tuple[tuple[str, str], ...]:
        """Return what it answers in the search for a complaint."""
        found = [("track-meter", "yes" if self.sounds else "no")] if "silent" in self.looked_for else []
        if complaint in (*self.looked_for, *self.shows) and complaint != "silent":
            found.append(("recorded-too", "yes" if complaint in self.shows else "no"))
        return tuple(found)


def recorded_signs(found: Collection[str], checked: Collection[str]) -> Recorded:
    """Return what a measured file says of complaints.

    Args:
        found: the kinds of fault that were found in it.
        checked: the kinds it was looked through for; what was not looked for answers nothing.
    """
    looked_for = tuple(complaint for complaint, kinds in SIGNS.items() if set(kinds) <= set(checked))
    shows = tuple(complaint for complaint, kinds in SIGNS.items() if set(kinds) & set(found))
    return Recorded(shows=shows, looked_for=looked_for, sounds="silent" not in found)


def odds_by_place(step: Next) -> dict[str, float]:
    """Return how likely the fault sits at each place of the way, after all that was said."""
    found = dict.fromkeys(PLACES, 0.0)
    for cause, odds in step.odds:
        found[CAUSES[cause].at] += odds
    return found


def traits_of(chain: Chain) -> frozenset[str]:
    """Return what a chain has that faults need: phantom, gain, leads, batteries, software, mains, air, pickups."""
    found = set()
    kinds = {device.kind for device in chain.devices}
    pickups = kinds & {"passive-pickup", "active-pickup", "keyboard"}
    feared = any(device.fears_phantom for device in chain.devices)
    if any(device.wants_phantom for device in chain.devices) and not feared:
        found.add("phantom")  # beside a ribbon nobody is sent to the switch
    if any(device.facts.microphone for device in chain.devices) or kinds == {"recorder", "headphones"}:
        found.add("air")
    if any(cable.connector not in ("usb", "mains") and not _to_ears(chain, cable.to_device) for cable in chain.cables):
        found.add("lead")
    if pickups:
        found |= {"plug", "pickup"} if "passive-pickup" in pickups else {"plug"}
    for kind, names in (
        ("computer", ("software", "usb")),
        ("interface", ("interface", "gain")),
        ("recorder", ("gain", "battery")),
        ("active-pickup", ("battery",)),
        ("usb-microphone", ("gain",)),
        ("mains-outlet", ("mains",)),
    ):
        if kind in kinds:
            found |= set(names)
    return frozenset(found)


def _to_ears(chain: Chain, device: str) -> bool:
    return chain.by_id[device].kind in ("headphones", "active-monitor", "passive-monitor")


def next_step(search: Search) -> Next:
    """Return what to ask or to try next: whatever leads to a cure at the least expected cost."""
    names = causes_for(search)
    share = odds_of(search)
    ranked = tuple(
        sorted(((name, float(one)) for name, one in zip(names, share, strict=False)), key=lambda one: -one[1])
    )
    asked = {question for question, _ in search.answers}
    if search.tingle == "yes":
        return Next(kind="stop", slug=DANGER, odds=ranked)
    if FIRST not in asked:
        return Next(kind="question", slug=FIRST, odds=ranked)
    if not names or share[-1] > 2 * share[:-1].max(initial=0.0):
        return Next(kind="else", slug="else", odds=ranked)
    best, cost = "", _cost_of_trials(names, share)
    for question, question_cost in QUESTIONS.items():
        if question in asked or not _applies(search, names, question):
            continue
        expected = question_cost + _cost_after(names, share, question)
        if expected < cost - 1e-9:
            best, cost = question, expected
    if best in TOUCHING and not search.tingle:
        return Next(kind="question", slug=DANGER, odds=ranked)
    if best:
        return Next(kind="question", slug=best, odds=ranked)
    worth = share[:-1] / np.array([CAUSES[name].cost_min for name in names])
    return Next(kind="trial", slug=names[int(worth.argmax())], odds=ranked)


def _applies(search: Search, names: tuple[str, ...], question: str) -> bool:
    """Tell whether a question can be answered on this chain, and tells any of its causes apart."""
    if question in TOUCHING and search.tingle == "cannot-tell":
        return False  # who is not sure touches nothing
    need = QUESTION_NEEDS.get(question)
    return (need is None or need in search.has) and any(question in CAUSES[name].yes for name in names)


def causes_for(search: Search) -> tuple[str, ...]:
    """Return the causes of the complaint that a chain can have, in the order of the table."""
    return tuple(
        name for name, one in CAUSES.items() if one.complaint == search.complaint and set(one.needs) <= search.has
    )


def odds_of(search: Search) -> np.ndarray:
    """Return how likely each cause of causes_for is, and last that it is something else; they add up to 1."""
    names = causes_for(search)
    weight = np.array([*(CAUSES[name].odds for name in names), OTHER_ODDS])
    for question, answer in search.answers:
        if answer != "cannot-tell":
            yes = _says_yes(names, question)
            weight *= yes if answer == "yes" else 1 - yes
    for cause in search.tried:
        if cause in names:
            weight[names.index(cause)] *= WRONG_SHARE
    return weight / weight.sum()


def _says_yes(names: tuple[str, ...], question: str) -> np.ndarray:
    """Return how likely each cause, and something else, has the answer yes, wrong answers counted."""
    true = np.array([*(CAUSES[name].yes.get(question, EVEN) for name in names), EVEN])
    return true * (1 - WRONG_SHARE) + (1 - true) * WRONG_SHARE


def _cost_of_trials(names: tuple[str, ...], share: np.ndarray) -> float:
    """Return the expected cost of trying one cause after the other, the best odds for their cost first."""
    cost = np.array([CAUSES[name].cost_min for name in names])
    order = np.argsort(-share[:-1] / cost, kind="stable")
    left = 1 - np.concatenate([[0.0], np.cumsum(share[:-1][order] * (1 - WRONG_SHARE))])
    return float((cost[order] * left[:-1]).sum() + OTHER_COST_MIN * left[-1])


def _cost_after(names: tuple[str, ...], share: np.ndarray, question: str) -> float:
    """Return the expected cost of the trials once a question is answered."""
    yes = _says_yes(names, question)
    total = 0.0
    for likely in (yes, 1 - yes):
        joint = share * likely
        total += float(joint.sum()) * _cost_of_trials(names, joint / joint.sum())
    return total
