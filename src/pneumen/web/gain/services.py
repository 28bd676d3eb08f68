"""Keeping a distance and a gain, applying an advice, pinning a setup, going back to planned."""

from django.db import transaction
from django.db.models import F

from pneumen.core.errors import require_within
from pneumen.core.gain import school_named
from pneumen.core.levels import band_of_sum_db
from pneumen.core.take import NOISE
from pneumen.web.part.models import TAKE, YOURS, Part
from pneumen.web.settle import outcome_of, require_distance, settle, space_of
from pneumen.web.take.models import Lesson
from pneumen.wording.language import _

QUIETER_BAND_DB = 3.0
"""How far what switching something off brings differs from what is commonly said (estimate)."""
LEAST_CHANGE_DB = 0.5


def keep(
    part: Part, *, distance_m: float | None = None, gain_db: float | None = None, school: str | None = None
) -> None:
    """Store what was set by hand, and only that; what is left out stays as it is, planned or not.

    Raises:
        OutOfRange, UnknownName: naming the field.
    """
    check(part, distance_m=distance_m, gain_db=gain_db, school=school)
    fields = []
    if school is not None:
        part.school = school
        fields.append("school")
    if distance_m is not None:
        part.distance_m, part.place_origin = distance_m, YOURS
        fields += ["distance_m", "place_origin"]
    if gain_db is not None:
        part.gain_db, part.gain_chain, part.gain_origin = gain_db, part.chain_name, YOURS
        fields += ["gain_db", "gain_chain", "gain_origin"]
    part.save(update_fields=fields)


def set_before(part: Part, **values: float) -> None:
    """Set what stands before a plug's interface on the row at hand.

    Raises:
        OutOfRange: naming the field.
    """
    for name, value in values.items():
        setattr(part, name, value)
    _rest = part.before  # refuses what cannot be


def keep_before(part: Part, **values: float) -> None:
    """Store what stands before a plug's interface.

    Raises:
        OutOfRange: naming the field; nothing is stored then.
    """
    set_before(part, **values)
    part.save(update_fields=list(values))


def check(part: Part, *, distance_m: float | None, gain_db: float | None, school: str | None) -> None:
    """Refuse what cannot be.

    Raises:
        OutOfRange, UnknownName: naming the field.
    """
    if distance_m is not None:
        require_distance(part, distance_m)
    if gain_db is not None:
        require_within("gain", gain_db, *part.to_chain().gain_range_db)
    if school is not None:
        school_named(school)


def plan_again(part: Part, what: str) -> None:
    """Let a value set by hand, or frozen by a take, go back to planned: it follows every change from then on."""
    if what == "gain":
        part.gain_db, part.gain_chain, part.gain_origin = None, "", ""
        part.save(update_fields=["gain_db", "gain_chain", "gain_origin"])
    elif what == "place":
        part.distance_m = part.above_m = part.aside_deg = None
        part.place_origin = ""
        part.save(update_fields=["distance_m", "above_m", "aside_deg", "place_origin"])
    elif what == "stand":
        part.stand_x_m = part.stand_y_m = part.facing_deg = None
        part.stand_origin = ""
        part.save(update_fields=["stand_x_m", "stand_y_m", "facing_deg", "stand_origin"])


@transaction.atomic
def apply_action(
    part: Part,
    *,
    distance_m: float | None = None,
    gain_db: float | None = None,
    aside_deg: float | None = None,
    noise_change_db: float | None = None,
) -> None:
    """Store what one advice changes, and only that: distance, gain, side, and the room where it was made quieter."""
    if noise_change_db is not None:
        _make_quieter(part, noise_change_db - space_of(part).noise_change_db)
        return
    if aside_deg is not None:
        require_within("aside", aside_deg, -90, 90)
        part.aside_deg, part.place_origin = aside_deg, YOURS
        part.save(update_fields=["aside_deg", "place_origin"])
    if distance_m is not None and part.gain_db is None:
        gain_db = None  # a planned gain follows the distance by itself
    if distance_m is not None or gain_db is not None:
        keep(part, distance_m=distance_m, gain_db=gain_db)


def _make_quieter(part: Part, change_db: float) -> None:
    """Shift what is believed of the room, for every part recorded in it; pressed twice it changes nothing more."""
    room = part.song.room
    if abs(change_db) < LEAST_CHANGE_DB or room.told_change_db:
        return
    require_within(_("room noise"), change_db, -40, 40)
    band_db = room.to_core().noise_band_db
    room.noise_change_db += change_db
    room.noise_band_db = band_of_sum_db(band_db, QUIETER_BAND_DB)
    room.told_change_db += change_db
    room.save(update_fields=["noise_change_db", "noise_band_db", "told_change_db"])
    there = Lesson.objects.mine(part.owner).filter(part__song__room=room, what=NOISE)
    there.update(noise_change_db=F("noise_change_db") + change_db, band_db=QUIETER_BAND_DB)


def freeze(part: Part) -> None:
    """Keep what a take is recorded with: what was planned stays as it is, so that advice has something to correct."""
    setup = settle(part)
    placement, fields = setup.placement, []
    if not part.is_plugged and part.distance_m is None:
        part.distance_m, part.place_origin = placement.distance_m, part.place_origin or TAKE
        fields += ["distance_m", "place_origin"]
    for name in ("above_m", "aside_deg"):
        if not part.is_plugged and getattr(part, name) is None:
            setattr(part, name, getattr(placement, name))
            fields.append(name)
    if part.stand_x_m is None or part.stand_y_m is None:
        part.stand_x_m, part.stand_y_m, part.facing_deg = placement.x_m, placement.y_m, placement.facing_deg
        part.stand_origin = TAKE
        fields += ["stand_x_m", "stand_y_m", "facing_deg", "stand_origin"]
    if part.gain_db is None or part.gain_chain != part.chain_name:
        part.gain_db, part.gain_chain, part.gain_origin = setup.gain_db, part.chain_name, TAKE
        fields += ["gain_db", "gain_chain", "gain_origin"]
    if fields:
        part.save(update_fields=fields)


def pin(part: Part) -> None:
    """Keep the present levels as a ghost in the picture; pin again to take it away."""
    levels = outcome_of(part).levels
    part.pinned = (
        None
        if part.pinned
        else {
            "peak_dbfs": round(levels.peak_dbfs, 2),
            "typical_dbfs": round(levels.typical_dbfs, 2),
            "noise_dbfs": round(levels.noise_dbfs, 2),
        }
    )
    part.save(update_fields=["pinned"])
