"""What is left out by data sheets alone is not missed."""

import unittest
from collections import Counter
from unittest import mock

import numpy as np

from pneumen.core.errors import NothingFits
from pneumen.core.kit import (
    Needs,
    OwnedGear,
    RoomNeed,
    frontier_of,
    owned_item,
    part_need,
)
from pneumen.core.kit.outclassed import outclassed
from tests.gear import random_catalogue

ROOM = RoomNeed(noise_dba=24, rt60_s=0.5, volume_m3=30)


class LeavingOutWhatIsOutclassed(unittest.TestCase):
    """What is left out unseen, by data sheets alone, must not be missed: with it and without, the same frontier."""

    SONGS = (
        (("voice-pop", "lever-harp"), 1),
        (("voice-pop", "clarinet"), 2),
        (("voice-pop", "guitar-direct"), 2),
        (("keyboard", "drum-kit"), 1),
    )

    def frontier(self, seed, size=400):
        sources, together = self.SONGS[seed % len(self.SONGS)]
        items = random_catalogue(seed, size, bundles=seed % 3)
        parts = tuple(part_need(source, ROOM) for source in sources)
        devices = [item for item in items if item.kind in ("microphone", "interface")]
        rng = np.random.default_rng(seed)
        mine, wished = (devices[int(rng.integers(len(devices)))] for _ in range(2))
        owned = OwnedGear(items=(owned_item(mine),)) if seed % 2 else OwnedGear()
        must = frozenset({wished.id}) if seed % 5 == 0 else frozenset()
        needs = Needs(parts=parts, room=ROOM, inputs_at_once=together, must=must, computer="windows")
        try:
            return [tuple(round(figure, 6) for figure in point) for point in frontier_of(needs, owned, items).points]
        except NothingFits:
            return []

    def test_the_frontier_is_the_same(self):
        gone = Counter()

        def seen(costs, *rest, **more):
            out = outclassed(costs, *rest, **more)
            gone["left out"] += int(out.sum())
            gone["in all"] += len(out)
            return out

        def nothing(costs, *rest, **more):
            return np.zeros(len(costs), dtype=bool)

        for seed in range(24):
            with mock.patch("pneumen.core.kit.outclassed.outclassed", seen):
                short = self.frontier(seed)
            with mock.patch("pneumen.core.kit.outclassed.outclassed", nothing):
                self.assertEqual(short, self.frontier(seed), seed)
        self.assertGreater(gone["left out"], gone["in all"] / 20)


if __name__ == "__main__":
    unittest.main()
