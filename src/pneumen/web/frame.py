"""What the frame around every screen shows: song, parts, and the thread with its verdicts."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from typing import Any

from django.urls import reverse
from django.utils.safestring import SafeString

from pneumen.core.verdict import Verdict
from pneumen.web.kept_rows import as_worked_out
from pneumen.web.part.models import Part
from pneumen.web.settle import outcome_of
from pneumen.web.site.requests import Request
from pneumen.web.site.space import SHORT_BYTES, free_bytes
from pneumen.web.steps import STEPS, Step
from pneumen.web.templatetags.pneumen import GLYPHS
from pneumen.wording.figures import verdict_words

KNOT_HEIGHT = 66
FIRST_KNOT_Y = 49
RAIL_HEIGHT = 784


@dataclass(frozen=True, slots=True, kw_only=True)
class Knot:
    """A step on the thread with its verdict; x is where the thread swings to at its height."""

    step: Step
    url: str
    verdict: Verdict
    says: str
    current: bool
    x: float
    left: float
    drawing: SafeString


def frame(request: Request) -> dict[str, Any]:
    """Context processor: the theme, and for pages of a part the bar and the thread."""
    theme = request.COOKIES.get("theme", "")
    context: dict[str, Any] = {"theme": theme if theme in ("light", "dark") else ""}
    context["steps"] = STEPS
    context["shortcuts_on"] = request.COOKIES.get("shortcuts") != "off"
    part, match = getattr(request, "part", None), request.resolver_match
    context["space_short"] = _shortage()
    if part is None or match is None or request.htmx:
        return context
    return context | _around(request, part, match.namespace)


def _around(request: Request, part: Part, namespace: str) -> dict[str, Any]:
    """Return thread and bar; who only looks gets them as worked out last, whatever page of the part it is."""
    if request.method not in ("GET", "HEAD"):  # it may have stored something since its rows were read
        return {**thread(part, namespace), "bar_part": part, **_bar(part, namespace)}
    verdicts = as_worked_out(("thread", part.pk), lambda: _verdicts(part))
    bar = as_worked_out(("bar", part.pk, namespace), lambda: _bar(part, namespace))
    return {**_thread(part, namespace, verdicts), "bar_part": part, **bar}


def _shortage() -> int | None:
    """Return how much room is left on the disk where a take might not fit any more; None where there is enough."""
    free = free_bytes()
    return free if free < SHORT_BYTES else None


def _bar(part: Part, namespace: str) -> dict[str, Any]:
    """Return every song with the address of its first part's Start, and this song's parts on the step; one query."""
    step = next((step for step in STEPS if step.slug == namespace), STEPS[0])
    songs: dict[int, tuple[str, str]] = {}
    parts = []
    rows = (
        Part.objects.mine(part.owner_id).filter(song__put_away_day=None).order_by("song__created_at", "position", "pk")
    )
    for song_id, song, pk, name in rows.values_list("song_id", "song__name", "pk", "name"):
        songs.setdefault(song_id, (song, reverse("start:page", args=[pk])))
        if song_id == part.song_id:
            parts.append((pk, name, reverse(step.page, args=[pk])))
    return {"bar_songs": list(songs.values()), "bar_parts": parts}


def thread(part: Part, current: str) -> dict[str, Any]:
    """Return what the thread shows of a part, for pages and for fragments that change its verdicts."""
    return _thread(part, current, _verdicts(part))


def _thread(part: Part, current: str, verdicts: Sequence[Verdict]) -> dict[str, Any]:
    return {
        "knots": _knots(part, current, verdicts),
        "thread_path": _thread_path(),
        "thread_end_left": round(_thread_x(RAIL_HEIGHT - 36) - 3.5, 1),
    }


def _verdicts(part: Part) -> list[Verdict]:
    found = outcome_of(part)
    return [step.verdict(part, found) for step in STEPS]


def _knots(part: Part, current: str, verdicts: Sequence[Verdict]) -> list[Knot]:
    return [
        Knot(
            step=step,
            url=reverse(step.page, args=[part.pk]),
            verdict=verdict,
            says=verdict_words(verdict, before=step.before_take),
            current=step.slug == current,
            x=_thread_x(FIRST_KNOT_Y + number * KNOT_HEIGHT),
            left=_thread_x(FIRST_KNOT_Y + number * KNOT_HEIGHT) - 9,
            drawing=SafeString(GLYPHS[verdict]),
        )
        for number, (step, verdict) in enumerate(zip(STEPS, verdicts, strict=True))
    ]


def _thread_x(y: float) -> float:
    """The thread breathes: a slow sway about the middle of its strip."""
    return 27 + 7 * math.sin(2 * math.pi * (y - FIRST_KNOT_Y) / (4 * KNOT_HEIGHT))


@cache
def _thread_path() -> str:
    points = [f"{_thread_x(y):.1f} {y}" for y in range(-20, RAIL_HEIGHT - 31, 8)]
    return "M" + "L".join(points)
