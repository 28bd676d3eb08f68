"""Closet or open room: what each school asks, and how this room and place stand against it."""

from dataclasses import dataclass

from pneumen.core.forecast import EARLY_DB, QUIET_DB, Outcome, RoomWorth, room_worth
from pneumen.core.verdict import Verdict
from pneumen.web.part.models import Part
from pneumen.wording.figures import figure


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
    end = "dry enough" if worth.is_dry else "hang more, or stand closer"
    told = f"{lead} dB over the room, {wanted} are asked: {end}"
    return SchoolTold(verdict=_verdict(worth.is_dry), name="Closet school", told=told)


def _open_room(worth: RoomWorth) -> SchoolTold:
    limit = figure(EARLY_DB)
    if worth.early_db is None:
        told = "no reflection within 15 ms"
    else:
        end = "not boxed in" if worth.is_open else "boxed in: more air round you, or something soft there"
        most = (
            f"most of it from the {worth.early_wall} after {figure(worth.early_ms, 1)} ms" if worth.early_wall else ""
        )
        told = f"early reflections at {figure(worth.early_db)} dB, {most}; {limit} at most: {end}"
    return SchoolTold(verdict=_verdict(worth.is_open), name="Open-room school", told=told)


def _both(worth: RoomWorth) -> SchoolTold:
    quiet = f"the quietest phrase {figure(worth.quiet_db)} dB over the noise, {figure(QUIET_DB)} are asked"
    clean = f"{figure(worth.clean_db)} dB of clean range, {figure(worth.clean_enough_db)} are asked"
    return SchoolTold(verdict=_verdict(worth.is_quiet), name="Both", told=f"{quiet}; {clean}")
