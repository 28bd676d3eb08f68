"""Listening in a real browser, whose capture device plays a known file."""

import re
import tempfile
from pathlib import Path

import numpy as np
import soundfile
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from pneumen.core.live.origin import LATE_S
from tests.browser.base import BrowserCase

RATE_HZ = 44_100
"""The fake device's own rate: at another one the browser would resample."""
QUIET_S, SONG_S, AFTER_S = 20, 62, 40
LONGEST_LOSS_S = 10
LOUDEST = 0.5
PAGE = "/parts/1/gain/live/"


def known_file(folder, quiet_s=QUIET_S):
    """Write what the device plays: the room, a song of a minute that is nowhere like itself, the room again."""
    draw = np.random.default_rng(5)
    time_s = np.arange(SONG_S * RATE_HZ) / RATE_HZ
    swell = 0.55 + 0.4 * np.abs(np.sin(2 * np.pi * 0.31 * time_s))
    song = swell * np.sin(2 * np.pi * 330 * time_s) + 0.05 * draw.standard_normal(len(time_s))
    song *= LOUDEST / np.abs(song).max()
    rooms = [5e-4 * draw.standard_normal(seconds * RATE_HZ) for seconds in (quiet_s, AFTER_S)]
    samples = np.concatenate([rooms[0], song, rooms[1]])
    path = Path(folder) / "known.wav"
    soundfile.write(path, np.stack([samples, np.zeros_like(samples)], axis=1), RATE_HZ, subtype="PCM_16")
    return path


def never_came(samples, known, begun):
    """Return how many samples of what is known are missing from what was kept; all others are as the device gave them.

    A browser on a machine that is too busy drops blocks whole. Each sample is compared to the step of its 16 bits.
    """
    at, missing = 0, 0
    while True:
        rest = samples[at:]
        wrong = np.flatnonzero(np.abs(rest - known[begun + at : begun + at + len(rest)]) > 2**-14)
        if not len(wrong):
            return missing
        at += wrong[0]
        looked_at = known[begun + at : begun + at + LONGEST_LOSS_S * RATE_HZ]
        sought = samples[at : at + 64]  # the noise makes it like nothing else
        found = np.flatnonzero(np.abs(looked_at[: 1 - len(sought)] - sought[0]) < 2**-14)
        jumps = [jump for jump in found if np.abs(looked_at[jump : jump + len(sought)] - sought).max() < 2**-14]
        if not jumps:
            raise AssertionError(f"what was kept from sample {at} on is nothing that the device gave")
        begun, missing = begun + jumps[0], missing + jumps[0]


class Listening(BrowserCase):
    @classmethod
    def setUpClass(cls):
        folder = tempfile.TemporaryDirectory(prefix="pneumen-known-")
        cls.addClassCleanup(folder.cleanup)
        cls.file = known_file(folder.name)
        cls.arguments = (
            "--use-fake-device-for-media-stream",
            "--use-fake-ui-for-media-stream",
            f"--use-file-for-fake-audio-capture={cls.file}%noloop",
        )
        super().setUpClass()

    def listen(self, script=""):
        self.go(PAGE)
        if script:
            self.browser.execute_script(script)
        self.press("Listen")

    def moment(self):
        return self.browser.execute_script("return document.querySelector('[data-moment]').innerText")

    def phase(self):
        return self.browser.execute_script("return document.querySelector('.moment').dataset.phase")

    def problem(self):
        return self.find("[data-problem]").text

    def kept(self):
        """Return the samples of the newest recording in the store."""
        stored = [path for path in Path(self.server.data, "audio").glob("*/*") if path.is_file()]
        return soundfile.read(max(stored, key=lambda path: path.stat().st_mtime_ns))

    def test_a_minute_without_a_free_hand_loses_no_sample(self):
        self.listen()
        self.wait(lambda: "dBFS" in self.moment())
        self.press_keys(Keys.PAGE_DOWN)
        self.wait(lambda: self.phase() == "armed")
        self.wait(lambda: self.phase() == "recording")
        self.wait(lambda: self.all("[data-takes] a"))
        samples, rate_hz = self.kept()
        known = soundfile.read(self.file)[0][:, 0]
        self.assertEqual(rate_hz, RATE_HZ)
        begun = np.argmax(np.abs(known) > 0.1) - np.argmax(np.abs(samples) > 0.1)
        missing = never_came(samples[:-RATE_HZ], known, begun)  # the last second's clock is not settled yet
        self.assertGreater(len(samples) + missing, (SONG_S + 2) * RATE_HZ)
        self.find("[data-takes] a").click()
        self.wait_for_text("Was it recorded as set?")
        self.wait_for_text("Recorded by the browser through Fake Default Audio Input, channel 1 of 2, at 44.1 kHz.")
        measured = self.browser.find_element(By.CSS_SELECTOR, ".verdict").text
        self.assertIn("−6.0 dBFS", measured)  # half of full scale
        # On a machine that keeps up nothing is missing; what a busy browser drops is told, to what its clock tells.
        told = re.search(r"(\d+) samples were lost on the way", self.find("main").text)
        self.assertGreaterEqual(int(told[1]) if told else 0, missing - LATE_S * RATE_HZ)

    def test_the_sound_threads_way_where_the_browser_hands_out_no_track(self):
        self.listen("delete window.MediaStreamTrackProcessor")
        self.wait(lambda: "quietest" in self.moment() or "room" in self.moment())
        self.press("Arm a take")
        self.wait(lambda: self.phase() in ("armed", "recording"))
        if self.phase() == "armed":
            self.press("Begin now")
        self.wait(lambda: "Recording 0:04" in self.moment())
        self.press("End the take")
        self.wait(lambda: self.all("[data-takes] a"))
        self.assertGreater(len(self.kept()[0]), 4 * RATE_HZ)

    def test_why_it_cannot_listen_is_told_in_words(self):
        for name, told in (
            ("NotAllowedError", "allow the microphone for this page"),
            ("NotFoundError", "There is no input"),
            ("NotReadableError", "used by another program"),
        ):
            with self.subTest(name):
                refused = f"new DOMException('no', '{name}')"
                self.listen(f"navigator.mediaDevices.getUserMedia = () => Promise.reject({refused})")
                self.wait(lambda words=told: words in self.problem())

    def test_a_microphone_that_is_unplugged_leaves_what_was_recorded(self):
        self.listen("""
            const media = navigator.mediaDevices, real = media.getUserMedia.bind(media);
            media.getUserMedia = async (asked) => { window.opened = await real(asked); return window.opened; };
        """)
        self.wait(lambda: "dBFS" in self.moment())
        for words in ("Arm a take", "Begin now"):
            self.press(words)
        self.wait(lambda: "Recording 0:03" in self.moment())
        self.browser.execute_script("window.opened.getAudioTracks()[0].dispatchEvent(new Event('ended'))")
        self.wait(lambda: "The input went away" in self.problem())
        self.wait(lambda: self.all("[data-takes] a"))

    def test_a_browser_that_alters_the_sound_is_told_of(self):
        self.listen("""
            const track = MediaStreamTrack.prototype, real = track.getSettings;
            track.getSettings = function () { return { ...real.call(this), noiseSuppression: true }; };
        """)
        self.wait(lambda: "keeps its noise suppression on" in self.moment())

    def test_the_stand_view_shows_one_word_and_one_number(self):
        self.go(PAGE + "?stand")
        self.press("Listen")
        self.wait(lambda: "dBFS" in self.moment())
        high = "return document.querySelector('.live-number .big').getBoundingClientRect().height"
        self.wait(lambda: self.browser.execute_script(high) > 150)
        self.assertEqual(self.axe(), [])
        self.press("Stop listening")
        self.wait(lambda: self.find("[data-begin]").is_displayed())

    def test_the_page_that_listens_is_accessible(self):
        self.listen()
        self.wait(lambda: "dBFS" in self.moment())
        self.assertEqual(self.axe(), [])
