"""How often the stated band holds: predictions after one test take against the take that follows, on fresh scenes.

    python benchmarks/bands.py [scenes] [first seed]

Each scene is a performer, chain and room drawn at random. One take is recorded and learnt from; the next is predicted
where the microphone stands, and where it was moved to. Prints how many of the next takes fell within the band.
"""

import sys
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from pathlib import Path

import numpy as np

ROOT = Path(__file__).resolve().parents[1]
sys.path[:0] = [str(ROOT / "src"), str(ROOT)]

from tests.signals import measured  # noqa: E402

from pneumen.core.gear import GRILLE_M, PATTERNS, Interface, Microphone  # noqa: E402
from pneumen.core.levels import band_of_sum_db  # noqa: E402
from pneumen.core.line import fall_db, levels_of  # noqa: E402
from pneumen.core.part import MIKED_SOURCES, SOURCES, guessed_levels  # noqa: E402
from pneumen.core.rig import Scene, draw_truth, simulate  # noqa: E402
from pneumen.core.setup import InTheAir, XlrChain  # noqa: E402
from pneumen.core.take import correction_from  # noqa: E402

SECONDS = 10.0


def scene_of(seed):
    """Return a source's name and slug, chain, air and truth of take number one."""
    rng = np.random.default_rng([seed, 7])
    source = SOURCES[str(rng.choice(sorted(MIKED_SOURCES)))]
    microphone = Microphone(
        sensitivity_mv_per_pa=float(rng.uniform(1.5, 25)),
        self_noise_dba=float(rng.uniform(5, 20)),
        max_spl_db=150.0,
        impedance_ohm=150.0,
        pattern=str(rng.choice(sorted(PATTERNS))),
    )
    interface = Interface(
        gain_min_db=0, gain_max_db=65, ein_dbu=-128, max_input_dbu=14, input_impedance_ohm=3000, dynamic_range_db=112
    )
    chain = XlrChain(microphone=microphone, microphone_band_db=2.0, interface=interface, interface_band_db=1.0)
    low, high = np.log(max(source.nearest_m, 0.05)), np.log(source.farthest_m)
    air = InTheAir(
        source=guessed_levels(source.slug, str(rng.choice(("soft", "medium", "loud")))).levels,
        room_noise_dba=float(rng.uniform(20, 38)),
        distance_m=float(np.exp(rng.uniform(low, high))),
        extent_m=source.extent_m,
        direct_to_reverberant_db=float(rng.uniform(2, 25)),
        rt60_s=float(rng.uniform(0.15, 1.0)),
    )
    moved_m = float(np.clip(air.distance_m * 2 ** rng.uniform(-1, 1), source.nearest_m, source.farthest_m))
    return source.slug, chain, air, moved_m


def moved_doubt_db(from_m, to_m):
    """Return what measuring to the grille or to the capsule leaves open of a move."""
    return abs(20 * np.log10((1 + GRILLE_M / to_m) / (1 + GRILLE_M / from_m)))


def at_distance(air, distance_m):
    """Return the same performer at another distance: the direct sound leads its room by so much less."""
    lead_db = air.direct_to_reverberant_db + fall_db(air.distance_m, distance_m)
    return replace(air, distance_m=distance_m, direct_to_reverberant_db=lead_db)


def next_takes(seed):
    """Return (error in dB of the next peak, band) where it stands and where it was moved to; none where it clipped."""
    slug, chain, air, moved_m = scene_of(seed)

    def take(air, gain_db, number):
        scene = Scene(
            chain=chain.setup(air, gain_db),
            source=slug,
            duration_s=SECONDS,
            seed=seed + number,
            truth=draw_truth(seed, number),
        )
        return scene.chain, measured(simulate(scene).samples, scene.sample_rate_hz)

    def gain_for(air, peak_dbfs):
        return float(np.clip(round(peak_dbfs - levels_of(chain.setup(air, 0)).peak_dbfs), 0, 65))

    believed, first = take(air, gain_for(air, -16), 1)
    learnt = correction_from(first, believed, gain_marking="db", sheet_band_db=chain.sheet_band_db)
    if learnt is None or learnt.lower_bound:
        return []
    known = replace(air, source=learnt.source)
    found = []
    for there in (known, at_distance(known, moved_m)):
        gain_db = gain_for(there, -14)
        expected = levels_of(chain.setup(there, gain_db)).peak_dbfs
        # The world plays as it does, whatever was learnt: the same source as guessed, at the new place and gain.
        _, told = take(at_distance(air, there.distance_m), gain_db, 2)
        if told.level.sample_peak_dbfs is not None and told.level.sample_peak_dbfs < -0.1:
            found.append(
                (
                    there is not known,
                    told.level.sample_peak_dbfs - expected,
                    band_of_sum_db(learnt.level_band_db, moved_doubt_db(air.distance_m, there.distance_m)),
                )
            )
    return found


def main(scenes=300, first=10_000):
    with ProcessPoolExecutor() as pool:
        results = [one for many in pool.map(next_takes, range(first, first + scenes), chunksize=4) for one in many]
    for name, moved in (("where it stands", False), ("moved", True)):
        errors = np.array([(error, band) for was_moved, error, band in results if was_moved == moved])
        held = np.abs(errors[:, 0]) <= errors[:, 1] + 1e-9
        spread = np.abs(errors[:, 0])
        print(
            f"{name}: {held.sum()} of {len(held)} within the band ({100 * held.mean():.0f} %); "
            f"90 % lie within {np.quantile(spread, 0.9):.1f} dB, 95 % within {np.quantile(spread, 0.95):.1f} dB"
        )


if __name__ == "__main__":
    main(*map(int, sys.argv[1:]))
