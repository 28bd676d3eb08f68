"""What is deleted is put away first: for so many days on which the program ran it can be brought back."""

from pathlib import Path
from typing import Final

from django.conf import settings
from django.db import transaction
from django.utils import timezone

from pneumen.web.audio.models import Ledger
from pneumen.web.site.backup import is_recording

KEPT_DAYS: Final = 30
NEVER: Final = 1 << 40
"""A day that does not come."""


@transaction.atomic
def today() -> int:
    """Return the ledger's day; another date on the clock than last time is one more, however far it jumped."""
    ledger, _ = Ledger.objects.get_or_create(pk=1)
    date = timezone.localdate()
    if ledger.last_day != date:
        ledger.days, ledger.last_day = ledger.days + 1, date
        ledger.save(update_fields=["days", "last_day"])
    return ledger.days


def put_away(recording: Path) -> None:
    """Move a recording out of the store; it keeps its checksum and the day in its name."""
    if recording.exists():
        recording.replace(settings.PUT_AWAY / f"{today()}-{recording.name}")


def find(checksum: str) -> Path | None:
    """Return a recording among those put away."""
    return next(iter(settings.PUT_AWAY.glob(f"*-{checksum}")), None)


def all_away() -> list[Path]:
    """Return every recording that was put away; files of other programs are none."""
    return [path for path in settings.PUT_AWAY.glob("*-*") if _day_of(path) < NEVER]


def old(day: int) -> list[Path]:
    """Return the recordings that were put away long enough ago."""
    return [path for path in all_away() if _day_of(path) <= day - KEPT_DAYS]


def _day_of(path: Path) -> int:
    day, _, checksum = path.name.partition("-")
    # What we did not name is never old.
    return int(day) if day.isascii() and day.isdigit() and is_recording(checksum) else NEVER
