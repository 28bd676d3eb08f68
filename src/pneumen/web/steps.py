"""The steps as data: the thread, the shortcuts and next and previous derive from it.

place is the step's place among the ten; Start comes before them. Only steps that exist stand here.
"""

from dataclasses import dataclass
from typing import Final


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    slug: str
    label: str
    url_name: str
    place: int | None
    shortcut: str


STEPS: Final = (
    Step(slug="start", label="Start", url_name="start:page", place=None, shortcut="s"),
    Step(slug="part", label="Part", url_name="part:page", place=1, shortcut="1"),
    Step(slug="kit", label="Kit", url_name="kit:page", place=2, shortcut="2"),
    Step(slug="room", label="Room", url_name="room:page", place=3, shortcut="3"),
    Step(slug="place", label="Place", url_name="place:page", place=5, shortcut="5"),
    Step(slug="gain", label="Gain", url_name="gain:page", place=6, shortcut="6"),
    Step(slug="take", label="Takes", url_name="take:page", place=8, shortcut="8"),
)
