"""Keeping the log: which session a take belongs to, what its person says of it, and a setup had again."""

from collections.abc import Sequence
from datetime import datetime, timedelta
from typing import Any, Final

from django.db import transaction
from django.db.models import Max
from django.db.models.functions import Coalesce
from django.utils import timezone

from pneumen.core.errors import Contradiction, OutOfRange, UnknownName
from pneumen.core.take import JUDGINGS, MARKED, MARKS, RESTS, TAKE_KINDS, Advice, Logged, advice_on, kind_of_take
from pneumen.core.verdict import Verdict
from pneumen.web.kept_rows import as_read
from pneumen.web.part.models import YOURS, Part
from pneumen.web.song.models import Preferences, Song
from pneumen.web.take.lessons import check_section, correction_of, learn_from
from pneumen.web.take.models import LOGGED, Sitting, Take, built
from pneumen.wording.language import _

OVER_AFTER: Final = timedelta(hours=3)
"""So long without a take, and a session is over by itself."""
SCHOOLS: Final = {"judging": tuple(JUDGINGS), "rest": RESTS}
MOST_REMARK: Final = 1000
MOST_SETUP_MIN: Final = 600
MOST_SAID: Final = {"remark": MOST_REMARK, "set_up": MOST_REMARK}


def sitting_now(song: Song) -> Sitting | None:
    """Return the session that is going on; None where the last one was ended, or is long over."""
    last = last_sitting(song)
    if last is None or last.ended_at is not None:
        return None
    newest = last.takes.order_by("-pk").values_list("created_at", flat=True).first()
    return last if timezone.now() - (newest or last.begun_at) < OVER_AFTER else None


def last_sitting(song: Song) -> Sitting | None:
    """Return the session that began last; recordings of earlier ones may have come in since."""
    return Sitting.objects.filter(song=song).order_by("-begun_at", "-number").first()


def sitting_for(song: Song, recorded_at: datetime | None = None) -> Sitting:
    """Return the session that is going on, or that a recording of an earlier time belongs to; or begin one."""
    if recorded_at is not None and timezone.now() - recorded_at > OVER_AFTER:
        return _sitting_at(song, recorded_at)
    now = sitting_now(song)
    if now is not None:
        return now
    last = Sitting.objects.filter(song=song).first()
    return Sitting.objects.create(owner=song.owner, song=song, number=1 + (last.number if last else 0))


def _sitting_at(song: Song, recorded_at: datetime) -> Sitting:
    """Return the session that took place at a time, or tell of one: its takes came in afterwards."""
    for sitting in Sitting.objects.filter(song=song):
        newest = sitting.takes.aggregate(at=Max(Coalesce("recorded_at", "created_at")))["at"]
        last_at = sitting.ended_at or newest or sitting.begun_at
        if sitting.begun_at - OVER_AFTER < recorded_at < last_at + OVER_AFTER:
            return sitting
    last = Sitting.objects.filter(song=song).first()
    number = 1 + (last.number if last else 0)
    return Sitting.objects.create(
        owner=song.owner, song=song, number=number, begun_at=recorded_at, ended_at=recorded_at + OVER_AFTER
    )


@transaction.atomic
def end_sitting(sitting: Sitting, *, hurt: bool) -> None:
    """End a session, perhaps for pain or hoarseness."""
    sitting.ended_at, sitting.hurt = sitting.ended_at or timezone.now(), hurt
    sitting.save(update_fields=["ended_at", "hurt"])


@transaction.atomic
def keep_sitting(sitting: Sitting, *, set_up: str, setup_min: int | None) -> None:
    """Store what was set up and how long it took.

    Raises:
        OutOfRange: for a time or a text that cannot be.
    """
    _check_length("set_up", set_up)
    if setup_min is not None and not 0 <= setup_min <= MOST_SETUP_MIN:
        raise OutOfRange(
            "setup_min", setup_min, _("0 to {most_setup_min} minutes").format(most_setup_min=MOST_SETUP_MIN)
        )
    sitting.set_up, sitting.setup_min = set_up, setup_min
    sitting.save(update_fields=["set_up", "setup_min"])


@transaction.atomic
def log_take(take: Take, **said: str) -> None:
    """Store what its person says of a take: kind, section, marks, remark; what is left out stays.

    Raises:
        UnknownName, OutOfRange: naming the field; nothing is stored then.
    """
    part = Part.objects.whole().get(pk=take.part_id)
    _check(part, said)
    played = take.section
    for name, value in said.items():
        setattr(take, name, value)
    take.save(update_fields=list(said))
    if take.section != played and take.measurement:
        _learn_anew(take, part)


def _check(part: Part, said: dict[str, str]) -> None:
    known = {"kind": TAKE_KINDS} | dict.fromkeys(MARKED, MARKS)
    for name, value in said.items():
        if name in known and value and value not in known[name]:
            raise UnknownName(name, value, known[name])
        if name in MOST_SAID:
            _check_length(name, value)
    check_section(part, said.get("section", ""))


def _check_length(name: str, text: str) -> None:
    if len(text) > MOST_SAID[name]:
        raise OutOfRange(name, len(text), _("at most {most_said} letters").format(most_said=MOST_SAID[name]))


def _learn_anew(take: Take, part: Part) -> None:
    """Let a take teach what it does of the passage that was really played; nothing where it was not asked about yet."""
    other_gear = (take.recorded or {}).get("other_gear")
    take.correction = built(None if other_gear else correction_of(take, part))
    take.save(update_fields=["correction"])
    if take.lessons.exists() or take.recorded is not None:
        learn_from(take, part)


def logged_of(part: Part) -> list[Logged]:
    """Return the takes the log counts: the real ones, put away or not, or the simulated where there are no others."""
    now = sitting_now(part.song)
    rows = list(Take.everything.filter(part=part).order_by("number").values_list(*LOGGED, named=True))
    real = any(not row.simulated for row in rows)
    return [_logged(row, now) for row in rows if not (real and row.simulated)]


def guessed_kind(take: Take) -> str:
    """Return what a take most likely is, by its length beside the part's longest."""
    counted = Take.everything.filter(part=take.part_id, simulated=take.simulated)
    longest_s = counted.aggregate(Max("length_s"))["length_s__max"] or 0.0
    return kind_of_take(take.length_s or 0.0, longest_s, take.section)


def _logged(row: Any, now: Sitting | None) -> Logged:  # noqa: ANN401 - what values_list makes of LOGGED
    return Logged(
        number=row.number,
        kind=row.kind,
        section=row.section,
        rhythm=row.rhythm,
        feeling=row.feeling,
        pitch=row.pitch,
        duration_s=row.length_s or 0.0,
        ruined=row.judged == Verdict.BAKED_IN,
        kept=row.put_away_day is None,
        here=now is not None and row.sitting == now.pk,
    )


def advice_for(part: Part, logged: Sequence[Logged]) -> tuple[Advice, ...]:
    """Return what to do next with a part."""
    last = last_sitting(part.song)
    return advice_on(
        logged,
        [section.name for section in part.core_sections],
        rest=preferences_of(part).rest,
        hurt=last is not None and last.hurt,
    )


def preferences_of(part: Part) -> Preferences:
    rows = Preferences.objects.filter(owner=part.owner_id)
    return as_read(("preferences", part.owner_id), lambda: rows.first() or Preferences(owner_id=part.owner_id))


@transaction.atomic
def keep_school(part: Part, **schools: str) -> None:
    """Store what counts first in judging, and after how many takes one rests."""
    preferences = preferences_of(part)
    for name, value in schools.items():
        if value not in SCHOOLS[name]:
            raise UnknownName(name, value, SCHOOLS[name])
        setattr(preferences, name, value)
    preferences.save()


@transaction.atomic
def recall(sitting: Sitting) -> tuple[str, ...]:
    """Set every part as it was when it was last recorded in a session; return the names of those that were.

    A gain is had again only with the gear it was set on.

    Raises:
        Contradiction: where no take of the session is left to tell.
    """
    recalled = []
    for part in Part.objects.whole().filter(song=sitting.song_id):
        take = Take.objects.filter(part=part, sitting=sitting).order_by("-number").first()
        if take is not None:
            _set_as_in(part, take)
            recalled.append(part.name)
    if not recalled:
        raise Contradiction(
            "session",
            _("{number} holds no take any more: nothing tells how it was set up").format(number=sitting.number),
        )
    return tuple(recalled)


def _set_as_in(part: Part, take: Take) -> None:
    placement, fields = take.snapshot.get("placement"), {}
    if placement and not part.is_plugged:
        fields = _placed(placement) | {"distance_m": take.distance_m, "place_origin": YOURS, "stand_origin": YOURS}
    if part.chain_name == take.snapshot["chain_name"]:
        fields |= {"gain_db": take.gain_db, "gain_chain": part.chain_name, "gain_origin": YOURS}
    for name, value in fields.items():
        setattr(part, name, value)
    part.save(update_fields=list(fields))
    buffer = take.snapshot.get("buffer")
    if buffer and part.song.buffer != buffer:
        part.song.buffer = buffer
        part.song.save(update_fields=["buffer"])


def _placed(placement: dict[str, Any]) -> dict[str, Any]:
    """Return the fields of a part that a placement tells."""
    same = ("above_m", "aside_deg", "turned_deg", "pop_screen", "screen_before_m", "low_cut_hz", "facing_deg")
    return {name: placement[name] for name in same} | {
        "stand_x_m": placement["x_m"],
        "stand_y_m": placement["y_m"],
        "mouth_m": placement["height_m"],
    }
