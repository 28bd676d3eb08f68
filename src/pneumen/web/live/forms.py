"""What a page says of the input it opens."""

import json
from typing import Any

from django.http import QueryDict

from pneumen.core.errors import Contradiction
from pneumen.core.live import QUIET_S, Origin, processed_by
from pneumen.web.reading import number_of, whole
from pneumen.wording.language import _

MOST_LETTERS = 200
MOST_SETTINGS = 4000


def origin_from(sent: QueryDict) -> Origin:
    """Return how the sound will come in, as a page tells it.

    Raises:
        PneumenError: naming what is missing or cannot be.
    """
    return Origin(
        device=sent.get("device", "")[:MOST_LETTERS],
        channel=whole(sent, "channel"),
        channels=whole(sent, "channels"),
        sample_rate_hz=whole(sent, "rate"),
        processing=processed_by(_settings(sent.get("settings", ""))),
    )


def quiet_s_from(sent: QueryDict) -> float:
    """Return after how many quiet seconds a take is over."""
    text = sent.get("quiet", "").strip()
    return number_of(text, "quiet") if text else QUIET_S


def _settings(text: str) -> dict[str, Any]:
    """Return what the browser says of the input's settings."""
    try:
        found = json.loads(text[:MOST_SETTINGS] or "{}")
    except ValueError:
        raise Contradiction("settings", _("must be what the browser says of its input")) from None
    if not isinstance(found, dict):
        raise Contradiction("settings", _("must be what the browser says of its input"))
    return found
