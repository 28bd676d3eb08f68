"""A balance to listen to: level, place and low-cut of what is sent, before and after at one loudness; never sent."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Any, Final

from django.db import transaction

from pneumen.core.errors import Contradiction, UnknownName, require_within
from pneumen.core.send import LEVELS_DB, LOW_CUTS_HZ, Voice, write_balance
from pneumen.core.take import matching_volumes, measure, open_recording
from pneumen.web.audio.services import keep, release, written
from pneumen.web.comp.models import Balance, BalanceItem
from pneumen.web.job.services import Tell, queue_anew
from pneumen.web.send.items import Item, items_of, length_of_song, parts_of, plan_of_song
from pneumen.web.song.models import Song
from pneumen.wording.language import _

LAYER_PLACES: Final = {"double left": -100.0, "double right": 100.0, "harmony left": -50.0, "harmony right": 50.0}


@dataclass(frozen=True, slots=True, kw_only=True)
class BalanceRow:
    """One file in the balance."""

    key: str
    name: str
    level_db: float
    place: float
    low_cut_hz: int


def heard_items(song: Song) -> list[Item]:
    """Return what is heard: all that is sent, and the backing whether it goes or not."""
    return [one for one in items_of(song, parts_of(song), plan_of_song(song)) if one.goes or one.key == "backing"]


def rows_of(song: Song, items: Sequence[Item]) -> list[BalanceRow]:
    """Return how each file is set; one nobody set stands in the middle, a layer where its kind begins."""
    said = {row.key: row for row in song.balance_items.all()}
    found = []
    for one in items:
        row = said.get(one.key)
        place = next((place for kind, place in LAYER_PLACES.items() if one.name.endswith(kind)), 0.0)
        found.append(
            BalanceRow(
                key=one.key,
                name=one.name,
                level_db=row.level_db if row else 0.0,
                place=row.place if row else place,
                low_cut_hz=row.low_cut_hz if row else 0,
            )
        )
    return found


@transaction.atomic
def keep_balance(song: Song, items: Sequence[Item], sent: Mapping[str, str]) -> None:
    """Store the balance and have it made to listen to.

    Raises:
        UnknownName, OutOfRange: naming what cannot be; nothing is stored then.
        Contradiction: where there is nothing to hear.
    """
    if not items:
        raise Contradiction("balance", _("has nothing to hear yet: record a take first"))
    for row in rows_of(song, items):
        values: dict[str, Any] = {
            "level_db": _number("level", sent.get(f"level-{row.key}"), row.level_db),
            "place": _number("place", sent.get(f"place-{row.key}"), row.place),
            "low_cut_hz": int(_number("low-cut", sent.get(f"cut-{row.key}"), row.low_cut_hz)),
        }
        require_within("level", values["level_db"], *LEVELS_DB)
        require_within("place", values["place"], -100.0, 100.0)
        if values["low_cut_hz"] not in LOW_CUTS_HZ:
            raise UnknownName("low-cut", str(values["low_cut_hz"]), tuple(map(str, LOW_CUTS_HZ)))
        BalanceItem.objects.update_or_create(song=song, key=row.key, defaults={"owner": song.owner, **values})
    balance, _rest = Balance.objects.get_or_create(song=song, defaults={"owner": song.owner})
    queue_anew(balance)


def _number(field: str, text: str | None, default: float) -> float:
    if text is None or not text.strip():
        return default
    try:
        return float(text.replace(",", ".").replace("\N{MINUS SIGN}", "-"))
    except ValueError:
        raise UnknownName(field, text, ("a number",)) from None


def make_balance(balance: Balance, tell: Tell) -> None:
    """Write what is heard before and after, as the worker does.

    Raises:
        UnreadableFile: where a recording cannot be read.
    """
    song = Song.objects.get(pk=balance.song_id)
    items = heard_items(song)
    if not items:
        raise Contradiction("balance", _("has nothing to hear any more: record a take first"))
    rows = rows_of(song, items)
    rate_hz = song.sample_rate_hz
    frames = round(length_of_song(song, parts_of(song)) * rate_hz)
    plain = [Voice(file=one.audio.path, offset_s=one.offset_s, drift_ppm=one.drift_ppm) for one in items]
    placed = [
        Voice(
            file=one.audio.path,
            offset_s=one.offset_s,
            drift_ppm=one.drift_ppm,
            level_db=row.level_db,
            place=row.place,
            low_cut_hz=row.low_cut_hz,
        )
        for one, row in zip(items, rows, strict=True)
    ]
    with (
        written(partial(_write, plain, rate_hz, frames)) as before,
        written(partial(_write, placed, rate_hz, frames)) as after,
    ):
        tell(0.7)
        levels = []
        for incoming in (before, after):
            with open_recording(incoming.path) as recording:
                levels.append(measure(recording).level)
        with transaction.atomic():
            stored = Balance.objects.filter(pk=balance.pk).first()
            if stored is None:  # removed while it was made
                return
            old = (stored.before, stored.after)
            stored.before, stored.after = keep(balance.owner, before), keep(balance.owner, after)
            stored.volumes = list(matching_volumes(*levels))
            stored.save()
            release(*[one for one in old if one and one.pk not in (stored.before.pk, stored.after.pk)])


def _write(voices: Sequence[Voice], rate_hz: int, frames: int, target: Path) -> None:
    write_balance(voices, target, rate_hz=rate_hz, frames=frames)
