"""Making a package, keeping what was sent, and telling what has changed since."""

import shutil
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

import msgspec
from django.conf import settings
from django.db import transaction
from django.db.models import Max

from pneumen.core.send import Delivery as Delivered
from pneumen.core.send import Pack, package, safe_name, write_together
from pneumen.web.audio.files import path_of
from pneumen.web.job.services import Tell, queue
from pneumen.web.send.items import Item, pack_of
from pneumen.web.send.models import Delivery, SendPlan
from pneumen.web.song.models import Song
from pneumen.wording.send import documents_of, manifest_of

TOGETHER = "together.wav"
PACKED_TO = 0.9


@transaction.atomic
def make_package(song: Song, plan: SendPlan, items: Sequence[Item], length_s: float) -> Delivery:
    """Have a package made of what goes.

    Raises:
        BadDocument: where nothing goes.
    """
    pack = pack_of(song, plan, items, length_s)
    last = song.deliveries.aggregate(Max("number"))["number__max"] or 0
    row = Delivery.objects.create(
        owner=song.owner,
        song=song,
        number=last + 1,
        recipient=plan.recipient,
        pack=msgspec.to_builtins(pack),
        made_of=[{"key": one.key, "name": one.name, "source": one.source} for one in items if one.goes],
    )
    queue(row, cost=pack.frames * len(pack.files))
    return row


def write_package(row: Delivery, tell: Tell) -> None:
    """Write the package, as the worker does: all of it or nothing.

    Raises:
        BadDocument, OSError: where it cannot be.
    """
    pack = msgspec.convert(row.pack, Pack)
    stored = tuple(
        replace(
            one,
            file=str(path_of(one.file)),
            also=tuple(replace(other, file=str(path_of(other.file))) for other in one.also),
        )
        for one in pack.files
    )
    shutil.rmtree(row.folder, ignore_errors=True)
    row.folder.mkdir(mode=0o700, parents=True)
    try:
        out = row.folder / safe_name(pack.song)
        delivered = package(
            replace(pack, files=stored),
            Path(),
            out,
            documents=documents_of,
            as_zip=True,
            progress=lambda share: tell(PACKED_TO * share),
        )
        written = [out / one.file for one in delivered.files]
        write_together(written, row.folder / TOGETHER, rate_hz=pack.rate_hz, frames=pack.frames)
        _finish(row, delivered)
    except BaseException:
        shutil.rmtree(row.folder, ignore_errors=True)
        raise


@transaction.atomic
def _finish(row: Delivery, delivered: Delivered) -> None:
    found = Delivery.objects.filter(pk=row.pk)
    sounds = [[round(peak, 4) for peak in one.sounds] for one in delivered.files]
    if not found.update(manifest=manifest_of(delivered), sounds=sounds):  # removed while it was made
        shutil.rmtree(row.folder, ignore_errors=True)


def zip_of(row: Delivery) -> Path:
    return row.folder / f"{safe_name(row.pack['song'])}.zip"


@transaction.atomic
def remove_package(row: Delivery) -> None:
    """Remove a package's files; that it was made stays in the history."""
    folder = row.folder
    transaction.on_commit(lambda: shutil.rmtree(folder, ignore_errors=True))


def remove_nobodys() -> int:
    """Remove packages whose song is gone; return how many."""
    known = set(map(str, Delivery.objects.values_list("pk", flat=True)))
    gone = [folder for folder in Path(settings.PACKAGES).glob("*") if folder.name not in known]
    for folder in gone:
        shutil.rmtree(folder, ignore_errors=True)
    return len(gone)


def changed_since(row: Delivery, items: Sequence[Item]) -> tuple[list[str], list[str], list[str]]:
    """Return the names of what is another now, of what would go now and did not, and of what went and would not."""
    before: dict[str, dict[str, Any]] = {one["key"]: one for one in row.made_of}
    now = {one.key: one for one in items if one.goes}
    changed = [now[key].name for key in now if key in before and before[key]["source"] != now[key].source]
    added = [now[key].name for key in now if key not in before]
    gone = [before[key]["name"] for key in before if key not in now]
    return changed, added, gone
