"""Which makeshift booths are worth building for a part, and what each brings."""

from dataclasses import dataclass
from typing import Final

from pneumen.core.forecast.hearing import standing_at
from pneumen.core.forecast.outcome import Outcome
from pneumen.core.room import CLOSET_M3, MAKESHIFTS, Makeshift, is_dry_enough, makeshift_gain_db

LEAST_GAIN_DB: Final = 0.5
"""A booth that brings less is not worth its minutes (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Booth:
    """A makeshift booth and by how many decibels the direct sound leads the room's by more with it."""

    slug: str
    kind: Makeshift
    gain_db: float


def booths_for(found: Outcome) -> tuple[Booth, ...]:
    """Return the booths worth building; none for what is plugged in.

    A baffle behind is the open-room school's own and wants air round it; the rest screens a single mouth, where the
    room is heard.
    """
    if found.air is None:
        return ()
    setup, source = found.setup, found.setup.source
    single_mouth = source.group == "voice" and not source.extent_m
    heard = single_mouth and not is_dry_enough(found.air.lead_db, source.dry_enough_db)
    fits = {slug: setup.space.volume_m3 >= CLOSET_M3 if slug == "baffle" else heard for slug in MAKESHIFTS}
    booths = (
        Booth(slug=slug, kind=kind, gain_db=makeshift_gain_db(setup.drawn_space.box, standing_at(setup), kind))
        for slug, kind in MAKESHIFTS.items()
        if fits[slug]
    )
    return tuple(booth for booth in booths if booth.gain_db >= LEAST_GAIN_DB)
