"""What to hang for the money: coverings shorten the reverberation time, and so the room's share of every part alike.

In the statistical room the critical distance goes with the root of 1 over T60, whatever the microphone: a hanging
lifts the direct-to-room ratio of every kit by the same decibels, so kits and hangings can be chosen apart.
"""

import math
from dataclasses import dataclass
from typing import Final

from pneumen.core.errors import require_within
from pneumen.core.kit.accessories import Missing, Shelf, SmallThing
from pneumen.core.kit.item import Item
from pneumen.core.kit.needs import Needs, OwnedGear, RoomNeed
from pneumen.core.room import reverberation_time_eyring_s

MOST_PIECES: Final = 6
"""More is a booth, not a few things hung for a session (common practice, no source)."""
SPEECH_BANDS: Final = slice(2, 6)
"""500 Hz to 4 kHz of the six bands: what makes a room heard behind a voice."""
HIGHEST_MEAN: Final = 0.9
GLUED: Final = "glued"
"""An item whose note says so is left out for renters."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Hanging:
    """What is hung: the pieces bought, what carries them, what all of it costs, and what it does."""

    pieces: tuple[Item, ...]
    carried_by: tuple[SmallThing, ...]
    price: float
    absorption_m2: float
    gain_db: float
    rt60_s: float


def absorption_of(item: Item) -> float:
    """Return a covering's absorption area for speech in m2: the mean of 500 Hz to 4 kHz."""
    bands = item.absorption_m2[SPEECH_BANDS]
    return sum(bands) / len(bands)


def rt60_with(room: RoomNeed, added_m2: float) -> float:
    """Return the reverberation time with more absorption hung in the room (Eyring, the surface staying as it is).

    >>> round(rt60_with(RoomNeed(noise_dba=30, rt60_s=0.5, volume_m3=30), 5.0), 2)
    0.3
    """
    require_within("added_m2", added_m2, 0, 10_000)
    mean = min(room.mean_absorption + added_m2 / room.surface_m2, max(HIGHEST_MEAN, room.mean_absorption))
    return reverberation_time_eyring_s(room.volume_m3, room.surface_m2, mean)


def hangings_for(needs: Needs, owned: OwnedGear, shelf: Shelf) -> tuple[Hanging, ...]:
    """Return what to hang for each sum of money: every hanging that no other beats, cheapest first.

    What is owned hangs in all of them. Of those for one price only the best is told.
    """
    mine = tuple(item for item in owned.items if item.kind == "covering")
    base_m2 = sum(absorption_of(item) for item in mine)
    offers = [item for item in shelf.things("covering") if not item.owned]
    if needs.renting:
        offers = [item for item in offers if GLUED not in item.note]
    carried_by: tuple[SmallThing, ...]
    try:
        carried_by = (shelf.one("clamps"), shelf.one("pole"))
    except Missing:
        offers, carried_by = [], ()
    carrying = sum(thing.price for thing in carried_by)
    sets = _best_sets(tuple((item.cost, absorption_of(item)) for item in offers), MOST_PIECES)
    found = [_hanging(needs.room, mine, (), base_m2, 0.0, ())]
    for cost, area_m2, numbers in sets:
        pieces = tuple(offers[number] for number in numbers)
        hanging = _hanging(needs.room, mine, pieces, base_m2 + area_m2, cost + carrying, carried_by)
        if hanging.gain_db > found[-1].gain_db + 1e-9:
            found.append(hanging)
    return tuple(found)


def _hanging(
    room: RoomNeed,
    mine: tuple[Item, ...],
    bought: tuple[Item, ...],
    area_m2: float,
    price: float,
    carried_by: tuple[SmallThing, ...],
) -> Hanging:
    rt60_s = rt60_with(room, area_m2)
    return Hanging(
        pieces=(*mine, *bought),
        carried_by=carried_by,
        price=price,
        absorption_m2=area_m2,
        gain_db=10 * math.log10(room.rt60_s / rt60_s),
        rt60_s=rt60_s,
    )


def _best_sets(offers: tuple[tuple[float, float], ...], most: int) -> list[tuple[float, float, tuple[int, ...]]]:
    """Return (cost, area, numbers of the offers taken) of every set of up to most pieces that no other beats.

    Exact: a best set less one piece can be swapped for the best set of its cost with as many pieces.
    """
    useful = _undominated([(cost, area, (number,)) for number, (cost, area) in enumerate(offers) if area > 0])
    best, whole = useful, list(useful)
    for _ in range(most - 1):
        best = _undominated([(c + cost, a + area, (*n, *number)) for c, a, n in best for cost, area, number in useful])
        whole += best
    return _undominated(whole)


def _undominated(sets: list[tuple[float, float, tuple[int, ...]]]) -> list[tuple[float, float, tuple[int, ...]]]:
    kept, most_area = [], 0.0
    for one in sorted(sets, key=lambda one: (one[0], -one[1], one[2])):
        if one[1] > most_area + 1e-12:
            kept.append(one)
            most_area = one[1]
    return kept
