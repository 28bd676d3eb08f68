"""A one-minute check as the stand-in plays it: lines loud and soft, silence, a backing that leaks, a clap."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Final

import numpy as np

from pneumen.core.levels import db_to_ratio
from pneumen.core.rig.leak import through_cups
from pneumen.core.rig.scene import Scene
from pneumen.core.rig.simulate import SimulatedTake, simulate
from pneumen.core.setup import LineSetup, PluggedSetup

LINES_DB: Final = {"warm-up": -8.0, "loudest": 0.0, "again": 0.0, "soft": -18.0, "words": -4.0}
"""How loud each line is against the loudest (invented)."""
NOTHING_DB: Final = -70.0
"""Played so softly nothing is heard but the room."""
SCENE_S: Final = 6.0
LINE_S, GAP_S, SILENCE_S, BACKING_S, BACKING_AFTER_S = 3.0, 2.2, 6.0, 10.5, 2.5
FIRST_S: Final = 2.5
FRAME_S: Final = 0.05


def simulate_minute(
    scene: Scene, steps: Sequence[str], *, leak_dbfs: float | None = None, clap: np.ndarray | None = None
) -> SimulatedTake:
    """Play a one-minute check through a scene; the same scene gives the same samples.

    Args:
        steps: which steps are done, by the guide's names.
        leak_dbfs: RMS of the backing's leak in the file; None where nothing plays.
        clap: a clap in the room at the file's scale, shape (N,); None where nobody claps.
    """
    rate_hz, rng = scene.sample_rate_hz, np.random.default_rng([scene.seed, 61])
    noise = _played(scene, NOTHING_DB)
    room = _Room(noise)
    pieces = [room.seconds(FIRST_S, rate_hz)]
    for step in steps:
        if step in LINES_DB:
            pieces.append(_line(_played(scene, LINES_DB[step]), noise, rate_hz))
        elif step == "backing":
            pieces.append(_with_leak(room.seconds(BACKING_S, rate_hz), leak_dbfs, rng, rate_hz))
        elif step == "clap" and clap is not None:
            pieces.append(room.samples(len(clap)) + clap)
        else:
            pieces.append(room.seconds(SILENCE_S, rate_hz))
        pieces.append(room.seconds(GAP_S, rate_hz))
    samples = np.clip(np.concatenate(pieces), -1, 1)
    return SimulatedTake(samples=samples, sample_rate_hz=rate_hz, caveats=())


class _Room:
    """The noise of the room and the chain, as long as it is asked for: one stretch after the other."""

    def __init__(self, noise: np.ndarray) -> None:
        self._noise, self._at = noise, 0

    def samples(self, count: int) -> np.ndarray:
        found = np.take(self._noise, np.arange(self._at, self._at + count), mode="wrap")
        self._at += count
        return found

    def seconds(self, seconds: float, rate_hz: int) -> np.ndarray:
        return self.samples(round(seconds * rate_hz))


def _played(scene: Scene, by_db: float) -> np.ndarray:
    puff_m_per_s = 0.0 if by_db == NOTHING_DB else scene.puff_m_per_s  # who says nothing says no P
    changed = replace(scene, chain=_louder(scene.chain, by_db), duration_s=SCENE_S, puff_m_per_s=puff_m_per_s)
    return simulate(changed).samples


def _louder(setup: LineSetup, by_db: float) -> LineSetup:
    shift = {"peak_db": by_db, "typical_db": by_db, "quiet_db": by_db}
    if isinstance(setup, PluggedSetup):
        return replace(setup, plug=setup.plug.shifted(**shift))
    return replace(setup, source=setup.source.shifted(**shift))


def _line(played: np.ndarray, noise: np.ndarray, rate_hz: int) -> np.ndarray:
    """Return the first line of what was played, from where it stands out of the noise."""
    frame = round(FRAME_S * rate_hz)
    count = min(len(played), len(noise)) // frame
    power, floor = (np.square(one[: count * frame].reshape(count, frame)).mean(axis=1) for one in (played, noise))
    sounds = np.flatnonzero(power > 8 * floor.mean())
    start = int(sounds[0]) * frame if len(sounds) else 0
    return played[start : start + round(LINE_S * rate_hz)]


def _with_leak(room: np.ndarray, leak_dbfs: float | None, rng: np.random.Generator, rate_hz: int) -> np.ndarray:
    if leak_dbfs is None:
        return room
    music = through_cups(rng.standard_normal(len(room)), rate_hz)
    music *= db_to_ratio(leak_dbfs) / music.std()
    music[: round(BACKING_AFTER_S * rate_hz)] = 0.0  # somebody has to start it first
    return room + music
