"""How soon a newcomer's take lands in the window: plan, test take, corrections, second take, in worlds drawn by lot.

    python benchmarks/newcomer.py [newcomers] [first seed]

Each newcomer has a source, a guess of how loud it is, a room in words, and a microphone with a marked gain, a bare
knob or none. The performer, the data sheets, the knob and the room differ from what is believed; the same phrase
varies from take to take. After the first take every advice is followed; one that lies in its window is enough.
Printed beside it is the bound: how many would have landed in the window had the gain been set by one who knows the
performer; what stops at the gain's end or overloads the microphone counts against both.
"""

import sys
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from pathlib import Path

import numpy as np

ROOT = Path(__file__).resolve().parents[1]
sys.path[:0] = [str(ROOT / "src"), str(ROOT)]

from tests.parts import room  # noqa: E402
from tests.signals import measured  # noqa: E402

from pneumen.core.forecast import PartSetup, Performance, advise, line_of, outcome, recommend, with_planned_gain  # noqa: E402
from pneumen.core.gain import KNOB_BAND, SCHOOLS  # noqa: E402
from pneumen.core.gear import Interface, Microphone, UsbMicrophone, directivity_index_db  # noqa: E402
from pneumen.core.line import whole_gain_db  # noqa: E402
from pneumen.core.part import LOUDNESSES, MIKED_SOURCES, SOURCES, guessed_levels  # noqa: E402
from pneumen.core.place import Placement  # noqa: E402
from pneumen.core.rig import Scene, draw_truth, simulate  # noqa: E402
from pneumen.core.room import FURNISHINGS, NOISES, SIZES  # noqa: E402
from pneumen.core.setup import UsbChain, XlrChain  # noqa: E402
from pneumen.core.take import correction_from  # noqa: E402

SECONDS, RATE_HZ = 6.0, 24_000
MOST_PRESSES = 6


def chain_of(rng):
    """Return a chain as home recordists have one: by USB with a dial or none, or an interface, marked or bare."""
    pattern = str(rng.choice(["cardioid", "supercardioid", "omni"], p=[0.8, 0.1, 0.1]))
    kind = str(rng.choice(["usb", "usb-dial", "numbered", "bare"]))
    if kind.startswith("usb"):
        microphone = UsbMicrophone(
            full_scale_db_spl=float(rng.uniform(112, 126)), self_noise_dba=float(rng.uniform(14, 26)), pattern=pattern
        )
        dial = kind == "usb-dial"
        marking = "bare" if dial else "none"
        return kind, UsbChain(
            microphone=microphone, microphone_band_db=2.0, gain_marking=marking, gain_max_db=40.0 if dial else 0.0
        )
    condenser = rng.random() < 0.6
    microphone = Microphone(
        sensitivity_mv_per_pa=float(rng.uniform(8, 25) if condenser else rng.uniform(1.3, 2.8)),
        self_noise_dba=float(rng.uniform(6, 18) if condenser else 18.0),
        max_spl_db=float(rng.uniform(128, 140) if condenser else 150.0),
        impedance_ohm=150.0,
        pattern=pattern,
    )
    interface = Interface(
        gain_min_db=0,
        gain_max_db=56,
        ein_dbu=-128,
        max_input_dbu=10,
        input_impedance_ohm=3000,
        dynamic_range_db=108,
        gain_marking="bare" if kind == "bare" else "db",
    )
    return kind, XlrChain(microphone=microphone, microphone_band_db=2.0, interface=interface, interface_band_db=1.0)


def newcomer(seed):
    """Return (kind of control, take one in the window, take two, take two of one who knows, nothing left to advise)."""
    rng = np.random.default_rng([seed, 11])
    source = SOURCES[str(rng.choice(sorted(MIKED_SOURCES)))]
    guess = guessed_levels(source.slug, str(rng.choice(list(LOUDNESSES))))
    words = (str(rng.choice(list(table))) for table in (SIZES, FURNISHINGS, NOISES))
    space = room(*words)
    kind, chain = chain_of(rng)
    width, depth, _ = space.box.size_m
    setup = PartSetup(
        source=source,
        performance=Performance(levels=guess.levels, band_db=guess.band_db),
        space=space,
        placement=Placement(x_m=width / 2, y_m=depth / 2, distance_m=source.usual_m, pop_screen=source.pops),
        chain=chain,
        school=SCHOOLS[int(rng.integers(len(SCHOOLS)))],
    )
    setup = with_planned_gain(setup.moved(distance_m=recommend(setup).distance_m))
    believed, told, _ = played(setup, guess, seed, 1)
    first = inside(setup, told)
    learnt = correction_from(told, believed, gain_marking=chain.gain_marking, sheet_band_db=chain.sheet_band_db)
    if learnt is not None:
        setup = followed(replace(setup, performance=known_from(learnt, setup)))
    _, told, _ = played(setup, guess, seed, 2)
    done = first or inside(setup, told)
    return kind, first, done, done or by_one_who_knows(setup, guess, seed)


def followed(setup):
    """Follow every advice, as one does who presses each button."""
    for _ in range(MOST_PRESSES):
        actions = advise(setup).actions
        if not actions:
            break
        setup = actions[0].after.setup
    return setup


def played(setup, guess, seed, number):
    """Play a take in the newcomer's world; return the setup believed, what was measured, and how far off the usual."""
    low, high = setup.chain.gain_range_db
    knob_db = KNOB_BAND * (high - low) / 2 if setup.chain.gain_marking == "bare" else 0.0
    believed = line_of(setup)
    bands = {"loudness_band_db": guess.band_db, "knob_band_db": knob_db}
    truth = draw_truth(seed, number, **bands)
    usual_db = float(np.mean([draw_truth(seed, one, **bands).loudness_db for one in range(100, 300)]))
    noise_dba = outcome(replace(setup, performance=Performance(levels=guess.levels, band_db=5))).in_air.noise_dba
    really = replace(believed, source=guess.levels, room_noise_dba=noise_dba + directivity_index_db(setup.pattern))
    scene = Scene(
        chain=really,
        source=setup.source.slug,
        duration_s=SECONDS,
        sample_rate_hz=RATE_HZ,
        seed=seed + number,
        truth=truth,
    )
    told = measured(simulate(scene).samples, scene.sample_rate_hz)
    return believed, told, truth.loudness_db - usual_db


def inside(setup, told):
    """Tell whether a take lies in its window, and did not clip on the way."""
    peak = told.level.sample_peak_dbfs
    clipped = any(finding.kind == "clipping" for finding in told.findings)
    return peak is not None and not clipped and setup.school.low_dbfs <= peak <= setup.school.high_dbfs


def known_from(learnt, setup):
    """Return what is known of a performer after the take that was recorded with a setup."""
    return Performance(
        levels=learnt.source,
        band_db=learnt.level_band_db,
        from_take=True,
        absolute=learnt.absolute,
        sheets_count=False,
        known_gain_db=setup.gain_db,
        known_distance_m=setup.placement.distance_m,
    )


def by_one_who_knows(setup, guess, seed):
    """Tell whether take two would lie in the window at the gain of one who knows how loud the performer usually is."""
    low, high = setup.chain.gain_range_db
    soft = replace(setup, gain_db=max(low, setup.gain_db - 20))
    _, told, off_db = played(soft, guess, seed, 2)
    peak = told.level.sample_peak_dbfs
    if peak is None:
        return False
    knowing = replace(setup, gain_db=whole_gain_db(soft.gain_db + setup.school.aim_dbfs - (peak - off_db), low, high))
    return inside(knowing, played(knowing, guess, seed, 2)[1])


def main(newcomers=300, first=20_000):
    with ProcessPoolExecutor() as pool:
        found = list(pool.map(newcomer, range(first, first + newcomers), chunksize=4))
    print(
        f"{newcomers} newcomers: take 1 in the window {sum(one[1] for one in found)}, "
        f"by take 2 {sum(one[2] for one in found)}; bound {sum(one[3] for one in found)}"
    )
    reached = sum(one[2] for one in found) / max(sum(one[3] for one in found), 1)
    print(f"{100 * reached:.1f} % of what the window and the spread of people allow")
    for kind, count in sorted(Counter(one[0] for one in found).items()):
        of_kind = [one for one in found if one[0] == kind]
        first_hits, second, bound = (sum(one[at] for one in of_kind) for at in (1, 2, 3))
        print(f"  {kind}: {count}; take 1 {first_hits}, by take 2 {second}, bound {bound}")


if __name__ == "__main__":
    main(*map(int, sys.argv[1:]))
