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
from pneumen.core.kit.needs import Needs, RoomNeed
from pneumen.core.kit.owned import OwnedGear, Textile
from pneumen.core.room import reverberation_time_eyring_s

MOST_PIECES: Final = 6
"""More is a booth, not a few things hung for a session (common practice, no source)."""
SPEECH_BANDS: Final = slice(2, 6)
"""500 Hz to 4 kHz of the six bands: what makes a room heard behind a voice."""
HIGHEST_MEAN: Final = 0.9
GLUED: Final = "glued"
"""An item whose note says so is left out for renters."""


PIECES_A_CLAMP_SET: Final = 2
"""A set of clamps holds so many pieces, each on a pole of its own (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Hanging:
    """What is hung: textiles that are there, the pieces bought, what carries those, what all of it costs and does.

    What is there hangs over doors, rails and wardrobes; only what is bought asks for poles and clamps.
    """

    textiles: tuple[Textile, ...]
    pieces: tuple[Item, ...]
    carried_by: tuple[SmallThing, ...]
    price: float
    area_m2: float
    absorption_m2: float
    gain_db: float
    rt60_s: float

    @property
    def count(self) -> int:
        """How many pieces hang, one's own and those of the kit."""
        return sum(textile.count for textile in self.textiles) + len(self.pieces)


def absorption_of(covering: Item | Textile) -> float:
    """Return a covering's absorption area for speech in m2: the mean of 500 Hz to 4 kHz."""
    bands = covering.absorption_m2[SPEECH_BANDS]
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
    offers = [item for item in shelf.things("covering") if not item.owned]
    if needs.renting:
        offers = [item for item in offers if GLUED not in item.note]
    found = [_hanging(needs.room, owned.textiles, mine, (), 0.0, ())]
    for price, _, pieces, carried_by in _priced_sets(offers, shelf):
        hanging = _hanging(needs.room, owned.textiles, mine, pieces, price, carried_by)
        if hanging.gain_db > found[-1].gain_db + 1e-9:
            found.append(hanging)
    return tuple(found)


def _hanging(
    room: RoomNeed,
    textiles: tuple[Textile, ...],
    mine: tuple[Item, ...],
    bought: tuple[Item, ...],
    price: float,
    carried_by: tuple[SmallThing, ...],
) -> Hanging:
    whole: list[Item | Textile] = [*textiles, *mine, *bought]
    added_m2 = sum(absorption_of(covering) for covering in whole)
    rt60_s = rt60_with(room, added_m2)
    return Hanging(
        textiles=textiles,
        pieces=(*mine, *bought),
        carried_by=carried_by,
        price=price,
        area_m2=sum(textile.area_m2 for textile in textiles) + sum(item.area_m2 for item in (*mine, *bought)),
        absorption_m2=added_m2,
        gain_db=10 * math.log10(room.rt60_s / rt60_s),
        rt60_s=rt60_s,
    )


Priced = tuple[float, float, tuple[Item, ...], tuple[SmallThing, ...]]


def _priced_sets(offers: list[Item], shelf: Shelf) -> list[Priced]:
    """Return (price, absorption, pieces, what carries them) of every set to buy that no other beats, cheapest first."""
    try:
        clamps, pole = shelf.one("clamps"), shelf.one("pole")
    except Missing:
        return []
    found = []
    for number, sets in enumerate(_best_sets([(item.cost, absorption_of(item)) for item in offers], MOST_PIECES), 1):
        carried_by = (*[clamps] * math.ceil(number / PIECES_A_CLAMP_SET), *[pole] * number)
        carrying = sum(thing.price for thing in carried_by)
        found += [
            (cost + carrying, area_m2, tuple(offers[one] for one in numbers), carried_by)
            for cost, area_m2, numbers in sets
        ]
    return sorted(found, key=lambda one: (one[0], -one[1]))


def _best_sets(offers: list[tuple[float, float]], most: int) -> list[list[tuple[float, float, tuple[int, ...]]]]:
    """Return for one to most pieces (cost, area, numbers of the offers taken) of every set that no other beats.

    Exact: a best set less one piece can be swapped for the best set of its cost with as many pieces.
    """
    useful = _undominated([(cost, area, (number,)) for number, (cost, area) in enumerate(offers) if area > 0])
    found = [useful]
    for _ in range(most - 1):
        more = [(c + cost, a + area, (*n, *number)) for c, a, n in found[-1] for cost, area, number in useful]
        found.append(_undominated(more))
    return found


def _undominated(sets: list[tuple[float, float, tuple[int, ...]]]) -> list[tuple[float, float, tuple[int, ...]]]:
    kept, most_area = [], 0.0
    for one in sorted(sets, key=lambda one: (one[0], -one[1], one[2])):
        if one[1] > most_area + 1e-12:
            kept.append(one)
            most_area = one[1]
    return kept
