"""Learning from takes: only what its person says it was recorded with, never an outlier unasked, undone one by one."""

from collections.abc import Collection
from dataclasses import replace
from typing import Any, Final

import msgspec
from django.db import transaction

from pneumen.core.errors import UnknownName, given, require_within
from pneumen.core.levels import band_of_sum_db
from pneumen.core.part import Section, levels_in
from pneumen.core.setup import PluggedSetup, setup_from_object
from pneumen.core.take import LEVEL, NOISE, Correction, Measurement, correction_from
from pneumen.web.gain.services import QUIETER_BAND_DB
from pneumen.web.part.models import TAKE, Part
from pneumen.web.room.models import Room
from pneumen.web.settle import require_distance
from pneumen.web.take.models import Lesson, Take, built

ROOM_SAME_CHAIN_BAND_DB: Final = 1.5
"""How far a room's noise, as one chain hears it, differs from take to take (estimate)."""
MOST_CHANGE_DB: Final = 80.0
DOUBTS: Final = (LEVEL, NOISE)
"""What may lie too far off to be learnt unasked."""
ASKED: Final = ("distance_m", "gain_db", "other_gear")


@transaction.atomic
def tell_of(take: Take, *, trusted: Collection[str] = (), **told: Any) -> None:
    """Store how a take was recorded, where that differs from its snapshot, and learn from it.

    Args:
        trusted: the outliers that its person says are so.
        told: distance_m and gain_db, section (its name) and other_gear; what is left out was as set.

    Raises:
        OutOfRange, UnknownName: naming the field; nothing is stored then.
    """
    part = Part.objects.whole().get(pk=take.part_id)
    recorded = {name: told[name] for name in ASKED if told.get(name) not in (None, "") and told[name] is not False}
    section = told.get("section", "")
    _check(part, take, recorded)
    check_section(part, section)
    believed = take.distance_m, take.gain_db
    take.section = section
    take.recorded = recorded | {"trusted": sorted({*_trusted(take), *trusted})}
    take.correction = built(None if recorded.get("other_gear") else correction_of(take, part))
    take.save(update_fields=["recorded", "correction", "section"])
    _set_as_recorded(part, take, *believed)
    learn_from(take, part)


def _trusted(take: Take) -> list[str]:
    return list((take.recorded or {}).get("trusted", ()))


def _check(part: Part, take: Take, recorded: dict[str, Any]) -> None:
    if "distance_m" in recorded:
        require_distance(part, recorded["distance_m"])
    if "gain_db" in recorded:
        low, high = take.gain_range_db
        require_within("gain", recorded["gain_db"], low, high)


def check_section(part: Part, name: str) -> None:
    """Let no passage be told that the part does not have.

    Raises:
        UnknownName: naming those it has.
    """
    if name and _section(part, name) is None:
        raise UnknownName("section", name, tuple(one.name for one in part.core_sections))


def _section(part: Part, name: str) -> Section | None:
    return next((one for one in part.core_sections if one.name == name), None)


def correction_of(take: Take, part: Part, measurement: Measurement | None = None) -> Correction | None:
    """Return what a take tells, recorded as its person says it was."""
    setup, _ = setup_from_object(take.snapshot["setup"])
    whole = setup.source
    setup = setup.at_gain(setup.gain_db + take.gain_db - take.snapshot["gain_db"])
    section = _section(part, take.section)
    if isinstance(setup, PluggedSetup):
        if section:
            setup = replace(setup, plug=levels_in(section, part.core_sections, setup.plug))
    else:
        setup = replace(setup, distance_m=take.distance_m)
        if section:
            setup = replace(setup, source=levels_in(section, part.core_sections, setup.source))
    return correction_from(
        measurement or given("measurement", take.to_core()),
        setup,
        gain_marking=take.snapshot["gain_marking"],
        sheet_band_db=take.snapshot["sheet_band_db"],
        whole=whole if section else None,
    )


def _set_as_recorded(part: Part, take: Take, believed_m: float, believed_db: float) -> None:
    """Set the part as it really stood, where nobody has changed it since: corrections then start from the truth."""
    fields: list[str] = []
    if part.chain_name != take.snapshot["chain_name"]:
        return
    if part.distance_m == believed_m != take.distance_m:
        part.distance_m, part.place_origin = take.distance_m, TAKE
        fields += ["distance_m", "place_origin"]
    if part.gain_db == believed_db != take.gain_db:
        part.gain_db, part.gain_origin = take.gain_db, TAKE
        fields += ["gain_db", "gain_origin"]
    if fields:
        part.save(update_fields=fields)


def may_teach(take: Take) -> bool:
    """Tell whether a part learns from a take: not from a simulated one where a real one has told of the part."""
    if not take.simulated:
        return True
    real = Take.everything.filter(part=take.part_id, simulated=False).exclude(measurement=None)
    # What a real take taught stays, even where the take itself was removed for good.
    return not real.exists() and not Lesson.objects.filter(part=take.part_id, simulated=False).exists()


def learn_from(take: Take, part: Part) -> None:
    """Store what a take taught of a part, and of its room how loud it is: every plan starts from there now.

    Nothing is learnt of another source than the part's, nor from gear nobody knows, nor what is doubtful.
    """
    take.lessons.all().delete()
    if not take.simulated:  # what the stand-in taught gives way, for good
        part.lessons.filter(simulated=True).update(undone=True)
    _store(take, part)
    teach_room(part.song.room)


def _store(take: Take, part: Part) -> None:
    correction, doubts = take.core_correction(), take.doubts
    if correction is None or LEVEL in doubts or take.snapshot["world"]["source"] != part.source:
        return
    shared = {
        "owner": part.owner,
        "part": part,
        "number": take.number,
        "absolute": correction.absolute,
        "chain": take.snapshot["chain_name"],
        "simulated": take.simulated,
    }
    take.lessons.create(
        **shared,
        what=LEVEL,
        levels=msgspec.to_builtins(correction.source),
        band_db=correction.level_band_db,
        other_chain_band_db=correction.source_band_db,
        gain_db=take.gain_db,
        distance_m=take.distance_m,
    )
    change_db = _noise_change_db(take, correction)
    if change_db is not None and NOISE not in doubts:
        take.lessons.create(
            **shared | {"absolute": correction.absolute and not correction.room_is_bound},
            what=NOISE,
            noise_change_db=change_db,
            noise_dba=correction.room_noise_dba,
            band_db=ROOM_SAME_CHAIN_BAND_DB,
            other_chain_band_db=correction.room_band_db,
        )


def _noise_change_db(take: Take, correction: Correction) -> float | None:
    """Return how far the room's noise lies from what its words say, as the take tells; None where it does not."""
    if correction.room_noise_dba is None:
        return None
    believed = take.snapshot["setup"]["room"]["noise_dba"]
    change = take.snapshot["noise_change_db"] + correction.room_noise_dba - believed
    return min(max(change, -MOST_CHANGE_DB), MOST_CHANGE_DB)


@transaction.atomic
def set_aside(lesson: Lesson, *, undone: bool) -> None:
    """Undo one lesson, or have it again; what was learnt before it holds then."""
    lesson.undone = undone
    lesson.save(update_fields=["undone"])
    if lesson.what == NOISE:
        teach_room(lesson.part.song.room)


def teach_room(room: Room) -> None:
    """Let a room be as loud as the newest lesson of any of its parts says; else as its words and its person do."""
    there = Lesson.objects.filter(what=NOISE, undone=False, absolute=True, part__song__room=room)
    newest = there.order_by("-created_at", "-pk").first()
    if newest is not None:
        change_db, band_db = given("noise", newest.noise_change_db), newest.other_chain_band_db
    else:
        change_db, band_db = room.told_change_db, None
        if change_db:
            room.noise_band_db = None
            band_db = band_of_sum_db(room.to_core().noise_band_db, QUIETER_BAND_DB)
    room.noise_change_db, room.noise_band_db = change_db, band_db
    room.save(update_fields=["noise_change_db", "noise_band_db"])


def forget_lessons(part: Part) -> None:
    """Go back to the guess of how loud a part is: another source is another performance. Its room stays as known."""
    Lesson.objects.filter(part=part, what=LEVEL).delete()
