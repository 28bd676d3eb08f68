"""Bundles that cannot save anything, and kits beyond enough, are not searched: nothing is missed."""

import unittest
from collections import Counter
from unittest import mock

import numpy as np

from pneumen.core.errors import NothingFits
from pneumen.core.kit import Item, Needs, OwnedGear, RoomNeed, frontier_of, owned_item, part_need
from pneumen.core.kit import planner as planning
from tests.gear import random_catalogue

ROOM = RoomNeed(noise_dba=24, rt60_s=0.5, volume_m3=30)
SONGS = (
    (("voice-pop", "lever-harp"), 1),
    (("voice-pop", "clarinet"), 2),
    (("drum-kit",), 1),
    (("voice-pop", "guitar-direct"), 1),
)


def wanted(seed):
    """Return needs, what is owned, and a catalogue with bundles of small things beside a device or two."""
    rng = np.random.default_rng(seed)
    sources, together = SONGS[seed % len(SONGS)]
    items = random_catalogue(seed, 90)
    devices = [item for item in items if item.kind in ("microphone", "interface")]
    small = [item for item in items if item.kind in ("boom-stand", "xlr-cable", "pop-filter", "headphones", "software")]
    bundles = []
    for number in range(6):
        inside = [devices[n] for n in rng.choice(len(devices), number % 3)]
        inside += [small[n] for n in rng.choice(len(small), 2 + number % 2, replace=False)]
        price = round(float(rng.uniform(0.3, 1.0)) * sum(item.price for item in inside))
        ids = tuple(dict.fromkeys(item.id for item in inside))
        bundles.append(Item(id=f"bundle-{number}", kind="bundle", name=f"Bundle {number}", price=price, in_box=ids))
    kinds = tuple(kind for kind in ("boom-stand", "xlr-cable", "headphones", "software") if rng.random() < 0.5)
    owned = OwnedGear(items=(owned_item(devices[0]),) if seed % 2 else (), kinds=kinds)
    parts = tuple(part_need(source, ROOM, loudness="loud") for source in sources)
    needs = Needs(parts=parts, room=ROOM, inputs_at_once=together, computer="windows", budget=700)
    return needs, owned, (*items, *bundles)


def told(needs, owned, items):
    """Return all that a frontier tells: its points, which of them is recommended, and those beside it."""
    try:
        found = frontier_of(needs, owned, items)
    except NothingFits as nothing:
        return [], 0, str(nothing)
    points = [tuple(round(figure, 6) for figure in point) for point in found.points]
    return points, found.recommended(), sorted(found.beside)


class WhatIsNotSearched(unittest.TestCase):
    def same_with(self, name, instead, seeds):
        """Hold what is planned to what is planned where a part of the planner is another."""
        for seed in range(seeds):
            asked = wanted(seed)
            short = told(*asked)
            with mock.patch.object(planning, name, instead):
                self.assertEqual(short, told(*asked), seed)

    def test_bundles_that_cannot_save_are_in_no_kit(self):
        may_save, seen = planning._can_save, Counter()

        def can_save(bundle, contents, paid):
            seen["tried" if may_save(bundle, contents, paid) else "left out"] += 1
            return bundle.cost < sum(item.shop_cost for item in contents)

        self.same_with("_can_save", can_save, 12)
        self.assertGreater(seen["left out"], 10)
        self.assertGreater(seen["tried"], 10)

    def test_kits_beyond_enough_are_not_missed(self):
        choices_of, spared = planning._choices, Counter()

        def all_choices(needs, owned, catalogue, *, to_enough=False):
            found = choices_of(needs, owned, catalogue)
            if to_enough:
                spared["all"] += len(found)
                spared["up to enough"] += len(choices_of(needs, owned, catalogue, to_enough=True))
            return found

        self.same_with("_choices", all_choices, 16)
        self.assertGreater(spared["up to enough"], 0)
        self.assertLess(spared["up to enough"], spared["all"])


if __name__ == "__main__":
    unittest.main()
