"""Listening at an input: levels, the armed take, lost samples, and the one word."""

import unittest

import numpy as np

from pneumen.core.errors import OutOfRange
from pneumen.core.gain import school_named
from pneumen.core.live import (
    ARMED,
    BEFORE_S,
    ENDED,
    LISTENING,
    PIECE_S,
    RECORDING,
    Heard,
    Origin,
    Stream,
    again,
    arrived,
    floor_dbfs_of,
    heard,
    held_dbfs_of,
    pressed,
    processed_by,
    stopped,
    word_of,
)
from pneumen.core.verdict import Verdict

RATE_HZ = 48_000
WIDE = school_named("three-quarter")


def noise(seconds, dbfs, seed=1):
    return 10 ** (dbfs / 20) * np.random.default_rng(seed).standard_normal(round(seconds * RATE_HZ))


def tone(seconds, peak_dbfs):
    time_s = np.arange(round(seconds * RATE_HZ)) / RATE_HZ
    return 10 ** (peak_dbfs / 20) * np.sin(2 * np.pi * 440 * time_s)


def fed(state, *sounds, block=4096):
    """Let an input hear sounds block by block; return the state and what was kept."""
    samples = np.concatenate(sounds).astype(np.float32)[:, None]
    kept = []
    for start in range(0, len(samples), block):
        state, more = heard(state, samples[start : start + block])
        kept += more
    return state, np.concatenate(kept)[:, 0] if kept else np.empty(0)


class Levels(unittest.TestCase):
    def test_a_sine_reads_its_peak_and_its_power(self):
        state, _ = fed(Heard(sample_rate_hz=RATE_HZ), tone(1, -12))
        self.assertAlmostEqual(state.trail[5].peak_dbfs, -12, 1)
        self.assertAlmostEqual(state.trail[5].rms_dbfs, -15.01, 1)  # 3.01 dB under its peak

    def test_the_floor_is_the_quietest_half_second(self):
        state, _ = fed(Heard(sample_rate_hz=RATE_HZ), noise(3, -60), tone(2, -12), noise(2, -50))
        self.assertAlmostEqual(floor_dbfs_of(state.trail), -60, 0)
        self.assertIsNone(floor_dbfs_of(state.trail[:10]))

    def test_the_loudest_is_held_for_ten_seconds(self):
        state, _ = fed(Heard(sample_rate_hz=RATE_HZ), tone(1, -6), noise(8, -60))
        self.assertAlmostEqual(held_dbfs_of(state.trail), -6, 1)
        state, _ = fed(state, noise(3, -60))
        self.assertLess(held_dbfs_of(state.trail), -40)

    def test_levels_do_not_depend_on_how_the_samples_arrive(self):
        sounds = (noise(1, -60), tone(1, -12))
        piece = round(PIECE_S * RATE_HZ)
        first, second = (fed(Heard(sample_rate_hz=RATE_HZ), *sounds, block=size)[0] for size in (piece, 10 * piece))
        self.assertEqual(first.trail, second.trail)

    def test_of_two_channels_the_louder_counts(self):
        both = np.stack([noise(1, -60), tone(1, -12)], axis=1).astype(np.float32)
        state, _ = heard(Heard(sample_rate_hz=RATE_HZ), both)
        self.assertAlmostEqual(state.loudest_dbfs, -12, 1)


class ArmedTake(unittest.TestCase):
    def armed(self, *before):
        state, kept = fed(Heard(sample_rate_hz=RATE_HZ), *(before or (noise(3, -70),)))
        self.assertEqual(len(kept), 0)
        return pressed(state)

    def test_two_seconds_before_the_first_sound_are_kept_and_five_quiet_ones_end_it(self):
        wait, song, rest = noise(4, -70, 2), tone(3, -12), noise(8, -70, 3)
        state, kept = fed(self.armed(), wait, song, rest)
        self.assertEqual(state.phase, ENDED)
        whole = np.concatenate([wait, song, rest]).astype(np.float32)
        loud = np.argmax(np.abs(kept) > 0.05)  # where the song begins in what was kept
        self.assertAlmostEqual(loud / RATE_HZ, BEFORE_S, delta=0.2)
        start = 4 * RATE_HZ + np.argmax(np.abs(whole[4 * RATE_HZ :]) > 0.05) - loud
        np.testing.assert_array_equal(kept, whole[start : start + len(kept)])  # not a sample lost or doubled
        self.assertAlmostEqual(len(kept) / RATE_HZ, BEFORE_S + 3 + 5, delta=0.3)

    def test_the_click_of_a_pedal_begins_nothing(self):
        click = np.zeros(round(0.03 * RATE_HZ)) + 0.3
        state, kept = fed(self.armed(), click, noise(2, -70, 2), click, noise(2, -70, 3))
        self.assertEqual((state.phase, len(kept)), (ARMED, 0))

    def test_a_rest_shorter_than_five_seconds_ends_nothing(self):
        sounds = (tone(2, -12), noise(4.5, -70, 4), tone(2, -20), noise(4.5, -70, 5), tone(1, -30))
        state, _ = fed(self.armed(), noise(1, -70), *sounds)
        self.assertEqual(state.phase, RECORDING)
        patient = Heard(sample_rate_hz=RATE_HZ, quiet_s=12)
        state, _ = fed(pressed(pressed(fed(patient, noise(3, -70))[0])), tone(1, -12), noise(9, -70))
        self.assertEqual(state.phase, RECORDING)

    def test_a_held_note_is_no_silence(self):
        state, _ = fed(self.armed(), noise(1, -70), tone(14, -20))
        self.assertEqual(state.phase, RECORDING)

    def test_a_noise_that_came_on_meanwhile_does_not_keep_it_going(self):
        state, _ = fed(self.armed(), noise(1, -70), tone(3, -12), noise(14, -52))
        self.assertEqual(state.phase, ENDED)

    def test_a_soft_player_in_a_silent_room_begins_it_too(self):
        state, _ = fed(self.armed(noise(3, -95)), noise(1, -95, 2), tone(1, -50))
        self.assertEqual(state.phase, RECORDING)

    def test_steady_noise_begins_nothing(self):
        state, kept = fed(self.armed(noise(3, -38)), noise(9, -38, 2))
        self.assertEqual((state.phase, len(kept)), (ARMED, 0))

    def test_the_key_arms_begins_and_ends(self):
        state, _ = fed(Heard(sample_rate_hz=RATE_HZ), noise(3, -70))
        phases = [state.phase]
        for _ in range(3):
            state = pressed(state)
            phases.append(state.phase)
        self.assertEqual(phases, [LISTENING, ARMED, RECORDING, ENDED])
        self.assertEqual(again(state).phase, LISTENING)

    def test_begun_by_hand_it_keeps_what_came_before_too(self):
        state, kept = fed(pressed(self.armed()), noise(1, -70, 2))
        self.assertAlmostEqual(len(kept) / RATE_HZ, BEFORE_S + 1, delta=PIECE_S)
        self.assertAlmostEqual(state.kept_s, len(kept) / RATE_HZ)

    def test_begun_by_hand_in_the_middle_of_music_it_goes_on(self):
        music = (tone(6, -14), tone(4, -24), tone(3, -14))
        state, _ = fed(pressed(pressed(fed(Heard(sample_rate_hz=RATE_HZ), *music)[0])), *music, tone(4, -24))
        self.assertEqual(state.phase, RECORDING)

    def test_begun_by_hand_it_waits_for_the_first_sound(self):
        state, _ = fed(pressed(self.armed()), noise(9, -70, 2))
        self.assertEqual(state.phase, RECORDING)
        state, _ = fed(state, tone(2, -20), noise(6, -70, 3))
        self.assertEqual(state.phase, ENDED)

    def test_stopped_before_anything_sounded_keeps_nothing(self):
        self.assertEqual(stopped(self.armed()).phase, LISTENING)

    def test_what_was_loud_before_is_not_the_takes(self):
        state, _ = fed(self.armed(tone(1, 0), noise(3, -70)), noise(1, -70), tone(2, -20))
        self.assertAlmostEqual(state.loudest_dbfs, -20, 1)
        self.assertEqual(state.over, 0)

    def test_impossible_settings_are_refused(self):
        for facts in ({"quiet_s": 0}, {"quiet_s": 90}, {"sample_rate_hz": 100}):
            with self.subTest(facts), self.assertRaises(OutOfRange):
                Heard(**{"sample_rate_hz": RATE_HZ} | facts)


class Words(unittest.TestCase):
    def word(self, *sounds):
        return word_of(fed(Heard(sample_rate_hz=RATE_HZ), *sounds)[0], WIDE)

    def test_each_level_has_its_word(self):
        room = noise(3, -75)
        for sounds, word, by_db in (
            ((room, tone(1, -9)), "good", 0),
            ((room, tone(1, -22)), "raise", 10),
            ((room, tone(1, -2)), "lower", 4),
            ((room, tone(1, 1)), "clips", 7),
            ((room,), "waiting", None),
            ((np.zeros(3 * RATE_HZ),), "nothing", None),
        ):
            with self.subTest(word):
                found = self.word(*sounds)
                self.assertEqual(found.word, word)
                if by_db is not None:
                    self.assertAlmostEqual(found.by_db, by_db, 0)
        self.assertEqual(self.word(room, tone(1, 1)).verdict, Verdict.BAKED_IN)

    def test_while_recording_the_loudest_of_the_take_counts(self):
        state = pressed(pressed(fed(Heard(sample_rate_hz=RATE_HZ), noise(3, -75))[0]))
        state, _ = fed(state, tone(1, -9), *(noise(1, -75, n) for n in range(3)), tone(1, -30), tone(9, -30))
        self.assertAlmostEqual(word_of(state, WIDE).number_dbfs, -9, 1)


class Arrival(unittest.TestCase):
    """What comes is counted, by the source's own count or by its clock."""

    def stream(self, firsts, *, counted, frames=480):
        stream = Stream(sample_rate_hz=RATE_HZ, counted=counted)
        for first in firsts:
            stream = arrived(stream, first, frames)
        return stream

    def test_a_count_tells_each_lost_sample(self):
        whole = [1000 + 480 * n for n in range(40)]
        self.assertEqual(self.stream(whole, counted=True).lost, 0)
        torn = [first + (128 if n > 10 else 0) + (256 if n > 20 else 0) for n, first in enumerate(whole)]
        self.assertEqual(self.stream(torn, counted=True).lost, 384)

    def test_a_clock_that_trembles_loses_nothing(self):
        late = np.random.default_rng(3).exponential(0.004 * RATE_HZ, 400).round().astype(int)
        stream = self.stream([1000 + 480 * n + late[n] // 2 for n in range(400)], counted=False)
        self.assertEqual(stream.lost, 0)

    def test_a_clock_tells_a_lost_block(self):
        late = np.random.default_rng(4).integers(0, 60, 100)
        firsts = [1000 + 480 * n + (480 if n >= 50 else 0) + late[n] for n in range(100)]
        self.assertAlmostEqual(self.stream(firsts, counted=False).lost, 480, delta=60)

    def test_two_clocks_apart_lose_nothing(self):
        firsts = [round(480 * n * 1.0002) for n in range(20_000)]  # 200 ppm
        self.assertEqual(self.stream(firsts, counted=False).lost, 0)


class Origins(unittest.TestCase):
    def test_what_the_browser_still_does_is_named(self):
        settings = {"autoGainControl": True, "noiseSuppression": False, "echoCancellation": "all", "latency": 0.01}
        self.assertEqual(processed_by(settings), ("echoCancellation", "autoGainControl"))
        self.assertEqual(processed_by({}), ())

    def test_a_channel_that_is_not_there(self):
        with self.assertRaisesRegex(OutOfRange, "channel"):
            Origin(device="", channel=3, channels=2, sample_rate_hz=RATE_HZ)
