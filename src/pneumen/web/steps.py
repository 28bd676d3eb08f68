"""The steps as data: addresses, the thread and its verdicts, the parts' links, shortcuts and help derive from it.

A new step is its folder beside these (urls.py with a page, an app_name that is its slug), its line among the settings'
apps, and its line here.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

from pneumen.core.forecast import Outcome
from pneumen.core.verdict import Verdict
from pneumen.web.comp.track_show import comp_verdict
from pneumen.web.delay.show import delay_verdict
from pneumen.web.hookup.show import verdict_of
from pneumen.web.kit.in_use import kit_verdict_of
from pneumen.web.part.models import Part
from pneumen.web.send.show import send_verdict
from pneumen.web.start.show import plan_verdict
from pneumen.web.take.models import Take


def _not_judged(part: Part, outcome: Outcome) -> Verdict:
    return Verdict.OPEN


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """A step: slug is its folder and the namespace of its addresses, place its place among the ten (Start has none).

    verdict tells how the step stands for a part, of which the outcome is at hand. before_take: judged before recording.
    """

    slug: str
    label: str
    place: int | None
    shortcut: str
    verdict: Callable[[Part, Outcome], Verdict] = _not_judged
    before_take: bool = True

    @property
    def page(self) -> str:
        return f"{self.slug}:page"

    @property
    def urls(self) -> str:
        return f"pneumen.web.{self.slug}.urls"


def _start(part: Part, outcome: Outcome) -> Verdict:
    return plan_verdict(part.song, outcome) if part.answered else Verdict.OPEN


def _part(part: Part, outcome: Outcome) -> Verdict:
    return Verdict.CLEAR if part.core_sections else Verdict.OPEN


def _kit(part: Part, outcome: Outcome) -> Verdict:
    if not part.answered:
        return Verdict.OPEN
    return kit_verdict_of(part.song)


def _room(part: Part, outcome: Outcome) -> Verdict:
    return outcome.room_verdict if part.answered else Verdict.OPEN


def _hookup(part: Part, outcome: Outcome) -> Verdict:
    return verdict_of(part) if part.answered else Verdict.OPEN


def _place(part: Part, outcome: Outcome) -> Verdict:
    return outcome.place_verdict if part.answered else Verdict.OPEN


def _gain(part: Part, outcome: Outcome) -> Verdict:
    return outcome.gain_verdict.verdict if part.answered else Verdict.OPEN


def _delay(part: Part, outcome: Outcome) -> Verdict:
    return delay_verdict(part, outcome) if part.answered else Verdict.OPEN


def _takes(part: Part, outcome: Outcome) -> Verdict:
    take = part.takes.filter(jobs__state=Take.DONE).only("judged").first()
    return (take.verdict if take else None) or Verdict.OPEN


def _comp(part: Part, outcome: Outcome) -> Verdict:
    return comp_verdict(part)


def _send(part: Part, outcome: Outcome) -> Verdict:
    return send_verdict(part.song)


STEPS: Final = (
    Step(slug="start", label="Start", place=None, shortcut="s", verdict=_start),
    Step(slug="part", label="Part", place=1, shortcut="1", verdict=_part),
    Step(slug="kit", label="Kit", place=2, shortcut="2", verdict=_kit),
    Step(slug="room", label="Room", place=3, shortcut="3", verdict=_room),
    Step(slug="hookup", label="Hookup", place=4, shortcut="4", verdict=_hookup),
    Step(slug="place", label="Place", place=5, shortcut="5", verdict=_place),
    Step(slug="gain", label="Gain", place=6, shortcut="6", verdict=_gain),
    Step(slug="delay", label="Delay", place=7, shortcut="7", verdict=_delay),
    Step(slug="take", label="Takes", place=8, shortcut="8", verdict=_takes, before_take=False),
    Step(slug="comp", label="Comp", place=9, shortcut="9", verdict=_comp, before_take=False),
    Step(slug="send", label="Send", place=10, shortcut="0", verdict=_send, before_take=False),
)
