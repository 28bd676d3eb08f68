"""The filter bank of MPEG-1 audio, layer III: against its own inverse, and on files that another coder made."""

import subprocess
import tempfile
import unittest
from pathlib import Path

import numpy as np
import soundfile

from pneumen.core.take.hybrid import BANDS, GRANULE, TAPS, lines_at_offsets, subbands, synthesis_window
from tests.material.takes import clean_take
from tests.signals import RATE, measured, noise, sine


def put_together(filtered):
    """The decoder's side of the polyphase bank, ISO/IEC 11172-3, figure 3-A.2 (from memory)."""
    place, band = np.arange(64)[:, None], np.arange(BANDS)[None]
    matrix = np.cos((16 + place) * (2 * band + 1) * np.pi / 64)
    held, out = np.zeros(1024), []
    for row in filtered:
        held = np.concatenate([matrix @ row, held[:-64]])
        taken = np.concatenate(
            [np.r_[held[a * 128 : a * 128 + 32], held[a * 128 + 96 : a * 128 + 128]] for a in range(8)]
        )
        out.append((taken * synthesis_window()).reshape(16, BANDS).sum(axis=0))
    return np.concatenate(out)


class Polyphase(unittest.TestCase):
    def test_both_banks_together_give_back_what_went_in(self):
        samples = noise(0.2, -12, seed=4)
        back = put_together(subbands(samples)[::BANDS])
        begin, length, delay = 1000, 4000, TAPS - BANDS + 1 - (TAPS - 1) + BANDS - 1
        error = back[begin : begin + length] - samples[begin - delay : begin - delay + length]
        self.assertLess(10 * np.log10(np.mean(error**2) / np.mean(samples**2)), -80)

    def test_a_tone_lies_in_its_band(self):
        for band in (2, 9, 20):
            hertz = (band + 0.5) * RATE / 2 / BANDS
            power = np.square(subbands(sine(hertz, 0.1))).sum(axis=0)
            self.assertEqual(int(power.argmax()), band)
            self.assertGreater(power[band] / np.delete(power, [band - 1, band, band + 1]).sum(), 1e6)


class Lines(unittest.TestCase):
    def test_a_tone_lies_in_its_line_at_every_offset(self):
        line = 100
        lines = np.square(lines_at_offsets(sine((line + 0.5) * RATE / 2 / GRANULE, 0.1)))
        self.assertEqual(lines.shape, (GRANULE, GRANULE))
        self.assertLessEqual(np.abs(lines.argmax(axis=1) - line).max(), 1)
        around = lines[:, line - 3 : line + 4].sum(axis=1) / lines.sum(axis=1)
        self.assertGreater(around.min(), 0.99)


class Coded(unittest.TestCase):
    """Files that ffmpeg's coder made of sounds with little treble are told; others are not."""

    def found(self, samples):
        return [one.kind for one in measured(samples).findings if one.kind == "lossy"]

    def test_an_mp3_of_a_dark_sound_is_told_and_what_it_was_made_of_is_not(self):
        for kind in ("viola", "nylon guitar"):
            dark = clean_take(kind, 231).samples.reshape(-1)
            self.assertEqual(self.found(dark), [])
            with self.subTest(kind), tempfile.TemporaryDirectory() as folder:
                plain, coded, back = (Path(folder) / name for name in ("a.wav", "a.mp3", "b.wav"))
                soundfile.write(plain, dark, RATE, subtype="PCM_24")
                subprocess.run(["ffmpeg", "-v", "error", "-y", "-i", plain, "-b:a", "128k", coded], check=True)
                subprocess.run(["ffmpeg", "-v", "error", "-y", "-i", coded, back], check=True)
                self.assertEqual(self.found(soundfile.read(back)[0]), ["lossy"])

    def test_a_tone_that_repeats_itself_exactly_is_no_coder(self):
        for samples in (np.clip(3 * sine(220, 4), -1, 1), 0.5 * np.sign(sine(150, 4))):
            self.assertEqual(self.found(samples), [])

    def test_a_held_note_of_a_synthesiser_is_no_coder_though_it_repeats_itself_now_and_then(self):
        for seed in (437, 440):
            self.assertEqual(self.found(clean_take("stand-in trombone", seed).samples.reshape(-1)), [])
