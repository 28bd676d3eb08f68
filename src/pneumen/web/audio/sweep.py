"""At the start: what a killed process left is put in order, and nothing else.

Recordings cannot be made again, so a sweep asks first what it would mean if the database it trusts were missing, older
than the folder or another one: then it does nothing and says so.
"""

from pathlib import Path
from typing import Final

from django.conf import settings
from django.db import transaction

from pneumen.web.audio import files
from pneumen.web.audio.models import AudioFile, Ledger
from pneumen.web.audio.put_away import put_away, today
from pneumen.wording.language import _

KNOWN: Final = "starts.txt"
"""In the data folder: which database was started on it last, and how often."""
MOST_ORPHANS: Final = 3
"""A killed process leaves one or two; more are nobody's slip."""


def start() -> str:
    """Put in order what a killed process left; return what there is to say, empty where there is nothing.

    To be called once at the start, by the one program that holds the folder.
    """
    files.sweep_incoming()
    orphans = _orphans()
    strange = _strange()
    if not orphans or not strange:  # else the folder stays marked as it is, until somebody has looked at it
        _count_start()
    if not orphans:
        return ""
    told = _("{orphans} recording{plural} in {audio} belong to no song").format(
        orphans=len(orphans), plural="s" if len(orphans) > 1 else "", audio=settings.AUDIO
    )
    if strange or len(orphans) > MOST_ORPHANS:
        return _("{told}{strange}: left as they are; ./pneumen check tells more").format(told=told, strange=strange)
    today()
    for recording in orphans:
        put_away(recording)
    return _("{told}: put away for 30 days, in {put_away}").format(told=told, put_away=settings.PUT_AWAY)


def _orphans() -> list[Path]:
    known = set(AudioFile.objects.values_list("checksum", flat=True))
    return [path for path in files.stored() if path.name not in known]


def _strange() -> str:
    """Return why this database is not to be trusted about a folder; empty where it is the one started here last."""
    ledger = Ledger.objects.filter(pk=1).first()
    if ledger is None or not ledger.starts:
        return _(", whose database is new")
    try:
        identity, starts = _known().read_text(encoding="utf-8").split()
        known_starts = int(starts)
    except (OSError, ValueError):
        return _(", and which database this folder had is not known")
    if identity != str(ledger.identity):
        return _(", whose database is another one than before")
    return _(", whose database is older than the folder") if ledger.starts < known_starts else ""


def _count_start() -> None:
    """Count this start in the database and in the folder."""
    with transaction.atomic():
        ledger, _rest = Ledger.objects.get_or_create(pk=1)
        ledger.starts += 1
        ledger.save(update_fields=["starts"])
    fresh = _known().with_name(f".{KNOWN}")
    fresh.write_text(f"{ledger.identity} {ledger.starts}\n", encoding="utf-8")
    fresh.replace(_known())


def _known() -> Path:
    return Path(settings.AUDIO).parent / KNOWN
