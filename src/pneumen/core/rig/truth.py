"""What is really so in the simulated world, and what the application is not told."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.errors import require_within
from pneumen.core.gear import GRILLE_M


@dataclass(frozen=True, slots=True, kw_only=True)
class Truth:
    """How the world differs from what was believed: performer, spectrum, data sheets, knob, all in dB.

    behind_m is how far the capsule lies behind the point that distances are measured to, reverberant_db how much
    louder the room's own sound is than computed. world_seed decides the phrase that is played take after take and which
    of the rooms that ring alike it is; None where every scene is a world of its own. hiss_db is how much stronger than
    usual this voice's S is.
    """

    loudness_db: float
    tilt_db_per_octave: float
    sensitivity_db: float
    gain_db: float
    room_noise_db: float
    behind_m: float = 0.0
    reverberant_db: float = 0.0
    hiss_db: float = 0.0
    world_seed: int | None = None


MOST_SEED: Final = 2**63 - 1
TAKE_TO_TAKE_DB: Final = 1.0
"""Standard deviation of the same phrase from take to take: people vary by 1 to 2 dB (physics, estimate)."""
REVERBERANT_DB: Final = 1.5
"""Standard deviation of a room's sound about its computed level (estimate: absorption is known to some 30 %)."""
HISS_DB: Final = 5.5
"""Standard deviation of how strong the S of one voice is against the next one's (estimate)."""
AS_TOLD: Final = Truth(loudness_db=0, tilt_db_per_octave=0, sensitivity_db=0, gain_db=0, room_noise_db=0)
"""A world exactly as believed."""


def draw_truth(world_seed: int, take_seed: int, *, loudness_band_db: float = 5.0, knob_band_db: float = 0.0) -> Truth:
    """Draw a world, and how this take of it turned out.

    The performer, the data sheets, the knob, the room and how one measures stay what they are; the same
    phrase comes out a little louder or softer each time.

    Args:
        loudness_band_db: how far the performer may lie from the guess: two standard deviations.
        knob_band_db: the same for a bare knob's gain.

    Raises:
        OutOfRange: for a seed or take below 0, or beyond 64 bits.
    """
    require_within("seed", world_seed, 0, MOST_SEED)
    require_within("take", take_seed, 0, MOST_SEED)
    world, take = np.random.default_rng(world_seed), np.random.default_rng([world_seed, take_seed])
    performer, tilt, sensitivity, gain, knob, room = world.standard_normal(6)
    behind_m = float(world.uniform(0, GRILLE_M))
    reverberant_db = float(REVERBERANT_DB * np.clip(world.standard_normal(), -2, 2))
    hiss_db = float(HISS_DB * np.clip(world.standard_normal(), -2, 2))
    return Truth(
        loudness_db=float(np.clip(performer, -1.8, 1.8) * loudness_band_db / 2 + take.normal(0, TAKE_TO_TAKE_DB)),
        tilt_db_per_octave=float(0.5 * tilt + take.normal(0, 0.1)),
        sensitivity_db=float(np.clip(sensitivity, -2, 2)),
        gain_db=float(0.4 * np.clip(gain, -2, 2) + np.clip(knob, -1.8, 1.8) * knob_band_db / 2),
        room_noise_db=float(1.5 * np.clip(room, -2, 2)),
        behind_m=behind_m,
        reverberant_db=reverberant_db,
        hiss_db=hiss_db,
        world_seed=world_seed,
    )
