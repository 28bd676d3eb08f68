"""The one-minute check: made of what is known, cut by itself, and measured."""

import unittest
from functools import cache

import numpy as np
from scipy.signal import butter, sosfilt

from pneumen.core.errors import Contradiction, UnreadableFile
from pneumen.core.levels import a_weighting_db
from pneumen.core.live import BACKING, CLAP, STEPS, Cut, Guide, cuts_in, heard_on, minute_of, steps_for
from pneumen.core.live.meter import piece_of, pieces_in
from pneumen.core.rig import simulate_clap
from pneumen.core.room import WALLS, Box, clap_of
from tests.core.test_riding import line

RATE_HZ = 44_100
NOISE_DBFS = -70.0
ROOM = Box(size_m=(4.0, 3.0, 2.5), surfaces=dict.fromkeys(WALLS, (0.3,) * 6))


def band(draw, seconds, low_hz, high_hz, rms):
    noise = draw.standard_normal(round(seconds * RATE_HZ))
    found = sosfilt(butter(3, (low_hz, high_hz), "bandpass", fs=RATE_HZ, output="sos"), noise)
    return rms * found / found.std()


def recorded(seed=1, **how):
    """Return a whole check, and where each step really begins and ends."""
    samples, places = made(seed, **how)
    return samples.copy(), places


@cache
def made(seed, *, again_db=-20.0, soft_db=-38.0, pop=0.0, hiss=0.0, leak_dbfs=None, without=()):
    draw = np.random.default_rng(seed)
    said = {"warm-up": -32.0, "loudest": -26.0, "again": again_db, "soft": soft_db, "words": again_db - 4}
    pieces, places, at = [np.zeros(round(2.5 * RATE_HZ))], {}, 2.5
    for step in STEPS:
        if step in without:
            continue
        if step == "silence":
            found = np.zeros(round(6.0 * RATE_HZ))
        elif step == "backing":
            found = np.zeros(round(10.5 * RATE_HZ))
            if leak_dbfs is not None:
                found[round(2.5 * RATE_HZ) :] = band(draw, 8.0, 300, 3000, 10 ** (leak_dbfs / 20))
        elif step == "clap":
            found = simulate_clap(ROOM, (1.0, 1.0, 1.4), (2.6, 2.0, 1.4), rate_hz=RATE_HZ, noise_dbfs=-200)
        else:
            found = 10 ** (said[step] / 20) * line(draw, 3.0)
            if step == "words":
                level = 10 ** (said[step] / 20)
                found[RATE_HZ : RATE_HZ + 4410] += pop * level * np.sin(2 * np.pi * 50 * np.arange(4410) / RATE_HZ)
                found[2 * RATE_HZ : 2 * RATE_HZ + 6615] += hiss * band(draw, 0.15, 5500, 9500, level)
        places[step] = (at, at + len(found) / RATE_HZ)
        pause = np.zeros(round(2.2 * RATE_HZ))
        pieces += [found, pause]
        at += (len(found) + len(pause)) / RATE_HZ
    clean = np.concatenate(pieces)
    return clean + 10 ** (NOISE_DBFS / 20) * draw.standard_normal(len(clean)), places


class Cutting(unittest.TestCase):
    def test_each_step_is_found_where_it_is(self):
        for seed in range(4):
            samples, places = recorded(seed)
            cuts = cuts_in(samples, RATE_HZ)
            self.assertEqual([cut.step for cut in cuts], list(STEPS))
            for cut in cuts:
                begins_s, ends_s = places[cut.step]
                with self.subTest(cut.step, seed=seed):
                    middle_s = (cut.start_s + cut.end_s) / 2
                    self.assertGreater(middle_s, begins_s - 0.5)
                    self.assertLess(middle_s, ends_s + 1.0)

    def test_steps_that_do_not_apply_are_left_out(self):
        steps = steps_for(plays_along=False, has_helper=False)
        self.assertFalse({BACKING, CLAP} & set(steps))
        samples, _ = recorded(without=(BACKING, CLAP))
        self.assertEqual([cut.step for cut in cuts_in(samples, RATE_HZ, steps)], list(steps))

    def test_a_door_in_the_silence_begins_it_anew(self):
        samples, places = recorded()
        at = round((places["silence"][0] + 2) * RATE_HZ)
        samples[at : at + 8000] += 0.2 * np.random.default_rng(1).standard_normal(8000)
        silence = next(cut for cut in cuts_in(samples, RATE_HZ) if cut.step == "silence")
        self.assertGreaterEqual(silence.start_s, (at + 8000) / RATE_HZ - 0.1)

    def test_a_cough_is_no_line(self):
        samples, places = recorded()
        before = 10 ** (NOISE_DBFS / 20) * np.random.default_rng(2).standard_normal(4 * RATE_HZ)
        before[2 * RATE_HZ : 2 * RATE_HZ + 8820] *= 300
        first = cuts_in(np.concatenate([before, samples]), RATE_HZ)[0]
        self.assertAlmostEqual(first.start_s, 4 + places["warm-up"][0], delta=0.4)

    def test_the_guide_says_what_comes_now(self):
        samples, _ = recorded()
        guide, seen = Guide(), []
        for piece in pieces_in(samples[:, None], RATE_HZ):
            guide = heard_on(guide, piece_of(piece, RATE_HZ))
            if guide.step and (not seen or seen[-1] != guide.step):
                seen.append(guide.step)
        self.assertEqual(seen, list(STEPS))
        self.assertIsNone(guide.step)

    def test_half_a_check_has_half_its_cuts(self):
        samples, places = recorded()
        self.assertEqual(len(cuts_in(samples[: round(places["silence"][0] * RATE_HZ)], RATE_HZ)), 3)
        self.assertEqual(cuts_in(np.zeros(RATE_HZ), RATE_HZ), ())


class Figures(unittest.TestCase):
    def minute(self, **how):
        samples, _ = recorded(**how)
        return minute_of(samples, RATE_HZ, cuts_in(samples, RATE_HZ))

    def test_levels_are_those_it_was_made_of(self):
        found = self.minute()
        weighting_db = 10 * np.log10(np.mean(10 ** (a_weighting_db(np.linspace(20, RATE_HZ / 2, 4000)) / 10)))
        self.assertAlmostEqual(found.noise_dbfs, NOISE_DBFS + weighting_db, delta=0.7)
        self.assertAlmostEqual(found.range_db, 18, delta=found.range_band_db)
        self.assertAlmostEqual(found.clean_range_db, found.typical_dbfs - found.noise_dbfs)
        self.assertFalse(found.clips)

    def test_the_line_said_again_counts(self):
        self.assertAlmostEqual(self.minute(again_db=-14).typical_dbfs - self.minute().typical_dbfs, 6, delta=0.7)
        self.assertTrue(self.minute(again_db=-2).clips or self.minute(again_db=-2).peak_dbfs > 0)

    def test_a_pop_and_a_harsh_hiss_stand_out(self):
        plain = self.minute()
        self.assertEqual((plain.pops, plain.harsh_s), (0, 0))
        self.assertGreaterEqual(self.minute(pop=3).pops, 1)
        self.assertGreaterEqual(self.minute(hiss=3.0).harsh_s, 1)

    def test_a_leak_is_told_from_the_noise(self):
        self.assertAlmostEqual(self.minute(leak_dbfs=-60).leak_dbfs, -60, delta=2)  # 300 to 3000 Hz, A about 0 dB
        nothing = self.minute()
        self.assertTrue(nothing.leak_is_bound)
        self.assertLess(nothing.leak_dbfs, nothing.noise_dbfs)

    def test_the_clap_tells_what_a_clap_alone_tells(self):
        alone = clap_of(
            simulate_clap(ROOM, (1.0, 1.0, 1.4), (2.6, 2.0, 1.4), rate_hz=RATE_HZ, noise_dbfs=NOISE_DBFS), RATE_HZ
        )
        self.assertAlmostEqual(self.minute().rt60_s, alone.rt60_s, delta=0.1 * alone.rt60_s)

    def test_the_clap_is_heard_while_the_backing_still_plays(self):
        samples, _ = recorded(leak_dbfs=-60)
        self.assertIsNotNone(minute_of(samples, RATE_HZ, cuts_in(samples, RATE_HZ)).rt60_s)

    def test_what_was_not_done_tells_nothing(self):
        found = minute_of(np.zeros(RATE_HZ), RATE_HZ, ())
        self.assertEqual((found.peak_dbfs, found.noise_dbfs, found.rt60_s, found.range_db), (None,) * 4)

    def test_cuts_by_hand_are_checked(self):
        with self.assertRaisesRegex(Contradiction, "soft must end after it begins"):
            Cut(step="soft", start_s=3, end_s=3)
        with self.assertRaisesRegex(UnreadableFile, "beyond its end"):
            minute_of(np.zeros(RATE_HZ), RATE_HZ, (Cut(step="soft", start_s=5, end_s=6),))
