"""How well a gain plan by section holds: one test take, then every section at its own setting, in worlds drawn by lot.

    python benchmarks/sections.py [performers] [first seed]

A singer's verse, chorus and bridge stand 4, 0 and 8 dB under the loudest. After one test take of the whole, each
section is recorded at the gain of its plan; it counts where its peak lies in the three-quarter window and nothing
clips. Printed beside it is what window and stated spread allow, the sum of the chances the plan itself states, and how
many sections would have landed there at the gain of one who knows how loud the performer usually is. What is simulated
varies from take to take as people do (core/rig/truth.py).
"""

import sys
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from pathlib import Path

import numpy as np

ROOT = Path(__file__).resolve().parents[1]
sys.path[:0] = [str(ROOT / "src"), str(ROOT), str(ROOT / "benchmarks")]

from newcomer import by_one_who_knows, chain_of, inside, known_from, played, room  # noqa: E402

from pneumen.core.forecast import PartSetup, Performance, gain_plan, outcome, recommend, with_planned_gain  # noqa: E402
from pneumen.core.gain import SCHOOLS, predictive  # noqa: E402
from pneumen.core.part import SOURCES, Section, guessed_levels, levels_in, levels_over  # noqa: E402
from pneumen.core.place import Placement  # noqa: E402
from pneumen.core.take import correction_from  # noqa: E402

SECTIONS = (
    Section(name="Verse", bars=16, loudness_db=-4),
    Section(name="Chorus", bars=8, loudness_db=0),
    Section(name="Bridge", bars=8, loudness_db=-8),
)


def performer(seed):
    """Return for each section whether its take lay in the window, and whether one who knows would have hit it."""
    rng = np.random.default_rng([seed, 19])
    source = SOURCES["voice-pop"]
    guess = guessed_levels(source.slug, "unknown")
    guess = replace(guess, levels=levels_over(SECTIONS, guess.levels))
    space, chain = room("medium", "furnished", "quiet"), chain_of(rng)[1]
    while chain.gain_marking == "none":
        chain = chain_of(rng)[1]
    width, depth, _ = space.box.size_m
    setup = PartSetup(
        source=source,
        performance=Performance(levels=guess.levels, band_db=guess.band_db),
        space=space,
        placement=Placement(x_m=width / 2, y_m=depth / 2, distance_m=source.usual_m, pop_screen=True),
        chain=chain,
        school=SCHOOLS[0],
    )
    setup = with_planned_gain(setup.moved(distance_m=recommend(setup).distance_m))
    believed, told, _ = played(setup, guess, seed, 1)
    learnt = correction_from(told, believed, gain_marking=chain.gain_marking, sheet_band_db=chain.sheet_band_db)
    if learnt is None:
        return [(False, False, 0.0)] * len(SECTIONS)
    setup = replace(setup, performance=known_from(learnt, setup))
    plan = gain_plan(outcome(setup), SECTIONS)
    band_db = outcome(setup).signal_band_db
    return [
        (*section_take(setup, guess, seed, number, one.gain_db), chance_inside(one, setup.school, band_db))
        for number, one in enumerate(plan.by_section)
    ]


def chance_inside(section, school, band_db):
    """Return the chance the plan states that a section's peak lies in the window."""
    ahead = predictive(section.peak_dbfs, band_db)
    return ahead.chance_over(school.low_dbfs) - ahead.chance_over(school.high_dbfs)


def section_take(setup, guess, seed, number, gain_db):
    """Play one section at its planned gain."""
    alone = replace(guess, levels=levels_in(SECTIONS[number], SECTIONS, guess.levels))
    there = replace(setup, gain_db=gain_db)
    _, told, _ = played(there, alone, seed, 2 + number)
    hit = inside(there, told)
    return hit, hit or by_one_who_knows(there, alone, seed)


def main(performers=150, first=60_000):
    with ProcessPoolExecutor() as pool:
        found = list(pool.map(performer, range(first, first + performers), chunksize=2))
    hits, bound, stated = (sum(section[at] for one in found for section in one) for at in (0, 1, 2))
    print(f"{performers * len(SECTIONS)} sections: {hits} in the window at the gain of their plan")
    print(f"window and stated spread allow {stated:.0f}: {100 * hits / max(stated, 1):.1f} % of that")
    print(f"one who knows the performer would have hit {bound}")
    for number, section in enumerate(SECTIONS):
        in_window, could, chance = (sum(one[number][at] for one in found) for at in (0, 1, 2))
        print(f"  {section.name}: {in_window}, stated {chance:.0f}, one who knows {could}")


if __name__ == "__main__":
    main(*map(int, sys.argv[1:]))
