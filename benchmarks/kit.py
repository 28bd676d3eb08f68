"""Time the planner beside SciPy's HiGHS on the same catalogue, in one run.

    PYTHONPATH=src:. .venv/bin/python benchmarks/kit.py [ITEMS] [ROUNDS]

The planner finds every kit no other beats for four parts; HiGHS, a general exact solver, finds the least money for the
figures of one of them (the recommended one), which is a small part of the same work. Prints seconds and the ratio.
"""

import statistics
import sys
import time

from tests.core import test_kit_exact as exact
from tests.gear import random_catalogue

from pneumen.core.kit import Needs, OwnedGear, RoomNeed, part_need, plan_kits

SOURCES = ("voice-pop", "lever-harp", "clarinet", "acoustic-guitar")


def main() -> None:
    items = int(sys.argv[1]) if len(sys.argv) > 1 else 2000
    rounds = int(sys.argv[2]) if len(sys.argv) > 2 else 5
    room = RoomNeed(noise_dba=24, rt60_s=0.5, volume_m3=30)
    catalogue = random_catalogue(1, items)
    needs = Needs(parts=tuple(part_need(source, room) for source in SOURCES), room=room)
    ours = []
    for number in range(rounds):
        started = time.perf_counter()
        plan = plan_kits(needs, OwnedGear(), catalogue)
        ours.append(time.perf_counter() - started)
        print(f"round {number + 1}: {len(plan.kits)} kits in {ours[-1]:.2f} s")
    print(f"{items} items, {len(SOURCES)} parts: median {statistics.median(ours):.2f} s for all kits")
    exact.POPS["acoustic-guitar"] = False
    world = exact.World(1, min(items, 200), SOURCES[:2])
    kits = plan_kits(world.needs, OwnedGear(), world.items)
    kit = kits.kits[kits.recommended]
    started = time.perf_counter()
    plan_kits(world.needs, OwnedGear(), world.items)
    mine = time.perf_counter() - started
    started = time.perf_counter()
    least = world.cheapest(kit.clean_range_db, kit.direct_to_reverberant_db)
    theirs = time.perf_counter() - started
    print(f"{len(world.items)} items, 2 parts: all {len(kits.kits)} kits in {mine:.3f} s")
    print(f"  HiGHS, the one kit for {least:g} (ours {kit.total:g}): {theirs:.3f} s, ratio {mine / theirs:.3f}")


if __name__ == "__main__":
    main()
