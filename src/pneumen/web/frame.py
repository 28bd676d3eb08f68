"""What the frame around every screen shows: song, parts, and the thread with its verdicts."""

import math
from dataclasses import dataclass
from typing import Any

from django.http import HttpRequest
from django.urls import reverse
from django.utils.safestring import SafeString

from pneumen.core.gain import school_named
from pneumen.web.song.models import Part, Song, Take
from pneumen.web.song.settle import outcome_of
from pneumen.web.steps import STEPS, Step
from pneumen.web.take.show import verdict_of
from pneumen.web.templatetags.pneumen import GLYPHS
from pneumen.web.wording import verdict_words

KNOT_HEIGHT = 70
FIRST_KNOT_Y = 51
RAIL_HEIGHT = 748


@dataclass(frozen=True, slots=True, kw_only=True)
class Knot:
    """A step on the thread with its verdict; x is where the thread swings to at its height."""

    step: Step
    url: str
    verdict: str
    says: str
    current: bool
    x: float
    left: float
    drawing: SafeString


def frame(request: HttpRequest) -> dict[str, Any]:
    """Context processor: the theme, and for pages of a part the bar and the thread."""
    theme = request.COOKIES.get("theme", "")
    context = {"theme": theme if theme in ("light", "dark") else ""}
    context["shortcuts_on"] = request.COOKIES.get("shortcuts") != "off"
    match = request.resolver_match
    if match is None or "part_id" not in match.kwargs or not request.user.is_authenticated or request.htmx:
        return context
    rows = Part.objects.mine(request.user).select_related("song", "song__room", "own_microphone", "own_interface")
    part = rows.filter(pk=match.kwargs["part_id"]).first()
    if part is None:
        return context
    return (
        context
        | thread(part, match.namespace)
        | {
            "bar_part": part,
            "bar_parts": part.song.parts.all(),
            "bar_songs": Song.objects.mine(request.user).filter(deleted_at=None).prefetch_related("parts"),
            "current_step": match.namespace,
        }
    )


def thread(part: Part, current: str) -> dict[str, Any]:
    """Return what the thread shows of a part, for pages and for fragments that change its verdicts."""
    return {
        "knots": _knots(part, current),
        "thread_path": _thread_path(),
        "thread_end_left": round(_thread_x(RAIL_HEIGHT - 36) - 3.5, 1),
    }


def _knots(part: Part, current: str) -> list[Knot]:
    found = outcome_of(part)
    miked = found.air is not None
    verdicts = {
        "start": "clear" if part.answered else "open",
        "part": "clear" if part.core_sections else "open",
        "kit": found.kit_verdict if part.answered else "open",
        "room": found.room_verdict if part.answered and miked else "open",
        "place": found.place_verdict if part.answered and miked else "open",
        "gain": found.gain_verdict.verdict if part.answered else "open",
        "take": take_verdict(part),
    }
    return [
        Knot(
            step=step,
            url=reverse(step.url_name, args=[part.pk]),
            verdict=verdicts[step.slug],
            says=verdict_words(verdicts[step.slug], before=step.slug != "take"),
            current=step.slug == current,
            x=_thread_x(FIRST_KNOT_Y + number * KNOT_HEIGHT),
            left=_thread_x(FIRST_KNOT_Y + number * KNOT_HEIGHT) - 9,
            drawing=SafeString(GLYPHS[verdicts[step.slug]]),
        )
        for number, step in enumerate(STEPS)
    ]


def take_verdict(part: Part) -> str:
    take = part.takes.filter(status=Take.DONE).defer("outline").first()
    return verdict_of(take.measurement, school_named(take.snapshot["school"])) if take else "open"


def _thread_x(y: float) -> float:
    """The thread breathes: a slow sway about the middle of its strip."""
    return 27 + 7 * math.sin(2 * math.pi * (y - FIRST_KNOT_Y) / (4 * KNOT_HEIGHT))


def _thread_path() -> str:
    points = [f"{_thread_x(y):.1f} {y}" for y in range(-20, RAIL_HEIGHT - 31, 8)]
    return "M" + "L".join(points)
