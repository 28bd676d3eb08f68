"""Closet or open room: what each school asks, and how this room and place stand against it."""

from dataclasses import dataclass

from pneumen.core.forecast import EARLY_DB, QUIET_DB, Outcome, RoomWorth, room_worth
from pneumen.core.verdict import Verdict
from pneumen.web.part.models import Part
from pneumen.wording.figures import figure
from pneumen.wording.language import _
from pneumen.wording.room import wall_told


@dataclass(frozen=True, slots=True, kw_only=True)
class SchoolTold:
    """One school: its name, what it asks, and what there is."""

    verdict: Verdict
    name: str
    told: str


def schools_told(part: Part, found: Outcome) -> tuple[SchoolTold, ...]:
    """Return both schools and what both ask; nothing for what is plugged in."""
    if found.air is None:
        return ()
    worth = room_worth(found, clean_enough_db=part.song.enough_clean_db)
    return _closet(worth), _open_room(worth), _both(worth)


def _verdict(holds: bool) -> Verdict:
    return Verdict.CLEAR if holds else Verdict.WATCH


def _closet(worth: RoomWorth) -> SchoolTold:
    lead, wanted = figure(worth.lead_db), figure(worth.dry_enough_db)
    end = _("dry enough") if worth.is_dry else _("hang more, or find a better spot")
    told = _("{lead} dB over the room, {wanted} are asked: {end}").format(lead=lead, wanted=wanted, end=end)
    return SchoolTold(verdict=_verdict(worth.is_dry), name=_("Closet school"), told=told)


def _open_room(worth: RoomWorth) -> SchoolTold:
    limit = figure(EARLY_DB)
    if worth.early_db is None:
        told = _("no reflection within 15 ms")
    else:
        end = _("not boxed in") if worth.is_open else _("boxed in: more air round you, or something soft there")
        most = (
            _("most of it from the {early_wall} after {early_ms} ms").format(
                early_wall=wall_told(worth.early_wall), early_ms=figure(worth.early_ms, 1)
            )
            if worth.early_wall
            else ""
        )
        told = _("early reflections at {early_db} dB, {most}; {limit} at most: {end}").format(
            early_db=figure(worth.early_db), most=most, limit=limit, end=end
        )
    return SchoolTold(verdict=_verdict(worth.is_open), name=_("Open-room school"), told=told)


def _both(worth: RoomWorth) -> SchoolTold:
    quiet = _("the quietest phrase {quiet_db} dB over the noise, {quiet_db_2} are asked").format(
        quiet_db=figure(worth.quiet_db), quiet_db_2=figure(QUIET_DB)
    )
    clean = _("{clean_db} dB of clean range, {clean_enough_db} are asked").format(
        clean_db=figure(worth.clean_db), clean_enough_db=figure(worth.clean_enough_db)
    )
    return SchoolTold(verdict=_verdict(worth.is_quiet), name="Both", told=f"{quiet}; {clean}")
