"""The whole loop, as a newcomer does it, on the demo and with a file of one's own."""

import base64
import json
import os
import signal
import tempfile
import time
from pathlib import Path

import soundfile
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.expected_conditions import staleness_of
from selenium.webdriver.support.ui import Select

from tests.browser.base import BrowserCase
from tests.signals import RATE, audio_file, phrases

DROP = """
const data = new DataTransfer();
data.items.add(new File([Uint8Array.from(atob(arguments[1]), (c) => c.charCodeAt(0))], "dropped.wav"));
for (const kind of ["dragover", "drop"])
  arguments[0].dispatchEvent(new DragEvent(kind, {dataTransfer: data, bubbles: true, cancelable: true}));
"""


class DemoLoop(BrowserCase):
    def test_from_plan_to_a_take_in_the_window(self):
        self.go("/")
        self.wait_for_text("The loudest chorus lands at")
        for part in ("Voice", "Lever harp"):
            self.press(part)
            self.find('a[data-shortcut="8"]').click()
            for _ in range(3):
                self.press("Play a simulated take")
                self.wait_for_text("Predicted beside measured")
                corrections = self.all("[data-correct]")
                if not corrections:
                    break
                corrections[0].click()
                self.wait_for_text("The setup as it stands now")
            self.assertIn("inside the", self.find(".verdict").text)

    def test_a_stretch_is_drawn_looped_looked_at_and_held_against_another_take(self):
        for _ in range(2):
            self.go("/parts/3/takes/")
            self.press("Play a simulated take")
            self.wait_for_text("Predicted beside measured")
        strip = self.shown("[data-strip]")
        drag = ActionChains(self.browser).move_to_element_with_offset(strip, -100, 0).click_and_hold()
        drag.move_by_offset(80, 4).move_by_offset(60, 0).release().perform()
        self.wait(lambda: self.all('[data-stretch="whole"]'))
        self.press("Spectrum")
        self.wait_for_text("Strongest lines")
        player = "const one = document.querySelector('[data-take-audio]'); return "
        loop = self.find("[data-loop]")
        self.keys("body", "l")
        starts_s, ends_s = (float(loop.get_attribute(f"data-{end}")) for end in ("from", "to"))
        self.browser.execute_script(f"{player} one.currentTime = {ends_s} - 0.2")
        self.wait(lambda: starts_s <= self.browser.execute_script(f"{player} one.currentTime") < ends_s - 0.2)
        Select(self.field("Hold against")).select_by_index(1)
        own = self.browser.execute_script(f"{player} one.src")
        self.keys("body", "c")
        self.wait(lambda: self.browser.execute_script(f"{player} one.src") != own)
        self.press("Hear this take")
        self.assertEqual(self.browser.execute_script(f"{player} one.src"), own)

    def test_a_take_is_judged_by_keys(self):
        self.go("/parts/3/takes/")
        self.press("Play a simulated take")
        self.wait_for_text("Predicted beside measured")
        pressed = lambda: [one.text for one in self.all("#judgement [aria-pressed=true]")]  # noqa: E731
        for key, expected in (("r", ["good"]), ("i", ["good", "good"]), ("r", ["weak", "good"]), ("r", ["good"])):
            self.keys("body", key)
            self.wait(lambda expected=expected: pressed() == expected)

    def test_a_killed_worker_is_followed_by_another(self):
        server = self.server.process.pid
        started = [path.read_text(encoding="ascii").split() for path in Path(f"/proc/{server}/task").glob("*/children")]
        (worker,) = [child for children in started for child in children]
        os.kill(int(worker), signal.SIGKILL)
        self.go("/parts/3/takes/")
        self.press("Play a simulated take")
        self.wait_for_text("Predicted beside measured")

    def test_all_is_there_after_a_restart(self):
        self.go("/")
        self.type("Distance", "33")
        self.wait(lambda: "33 cm" in self.find('.handle[data-field="distance"]').get_attribute("aria-valuetext"))
        self.server.stop()
        self.server.start()
        self.go("/")
        self.assertEqual(self.field("Distance").get_attribute("value"), "33")


class OwnSong(BrowserCase):
    def test_a_new_song_with_own_gear_and_an_uploaded_file(self):
        self.go("/songs/")
        self.type("Name", "Night Train")
        self.press("Create song")
        self.wait_for_text("Five answers make a plan")
        self.type("Money to spend", "400")
        Select(self.field("Microphone you own")).select_by_visible_text("Dynamic, by family")
        self.wait_for_text("What is plugged into what")
        self.press("On to Gain")
        self.wait_for_text("sets your noise")
        self.find('a[data-shortcut="8"]').click()
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "my take.flac"
            soundfile.write(path, phrases(-4, -75), RATE, subtype="PCM_24")
            self.find("#recording").send_keys(str(path))
            self.press("Measure")
            self.wait_for_text("Predicted beside measured")
        self.assertIn("my take.flac", self.find("main").text)
        self.assertIn("above the three-quarter window", self.find(".verdict").text)
        self.wait_for_text("Was it recorded as set?")
        self.press("Yes, learn from it")
        self.wait_for_text("The plan starts from this now")
        self.press("undo it under Learnt")
        self.wait(lambda: self.find('[aria-label*="the level in the file"]')).click()
        self.wait_for_text("Use it again")
        self.find('a[data-shortcut="8"]').click()
        self.wait_for_text("Predicted beside measured")
        self.assertNotIn("The plan starts from this now", self.find("main").text)

    def test_a_file_dropped_on_the_page_is_taken_in(self):
        self.go("/parts/1/takes/")
        with audio_file(phrases(-9, -75), name="dropped.wav") as path:
            content = base64.b64encode(path.read_bytes()).decode()
        self.browser.execute_script(DROP, self.find("[data-drop]"), content)
        self.wait_for_text("dropped.wav; peaks over time")

    def test_a_bad_file_is_told_at_the_field(self):
        self.go("/")
        self.find('a[data-shortcut="8"]').click()
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "phone.m4a"
            path.write_bytes(b"\0\0\0\x20ftypM4A " + bytes(400))
            self.find("#recording").send_keys(str(path))
            self.press("Measure")
            self.wait(lambda: "convert it" in self.find("#upload-problem").text)

    def test_a_wrong_figure_is_told_and_stays(self):
        self.go("/")
        self.find('a[data-shortcut="s"]').click()
        self.type("Money to spend", "plenty")
        self.wait(lambda: "Money to spend must be a number." in self.find("#problem-budget").text)
        self.assertEqual(self.field("Money to spend").get_attribute("value"), "plenty")

    def test_delete_and_undo(self):
        self.go("/songs/")
        self.press("Delete song")
        self.wait_for_text("was put away")
        self.press("Undo")
        self.wait(lambda: self.all("section h2"))


class Touch(BrowserCase):
    """Dragging, keys and listening."""

    def setUp(self):
        super().setUp()
        self.go("/parts/1/gain/")

    def hero(self):
        return self.find(".hero-number").text

    def test_dragging_the_files_end_sets_the_gain(self):
        before, gain = self.hero(), float(self.field("Preamp gain").get_attribute("value"))
        handle = self.wait(lambda: self.shown('.handle[data-field="gain"]'))
        ActionChains(self.browser).click_and_hold(handle).move_by_offset(0, 15).move_by_offset(
            0, 15
        ).release().perform()
        self.wait(lambda: self.hero() != before)
        lowered = float(self.field("Preamp gain").get_attribute("value"))
        self.assertLess(lowered, gain - 8)
        self.settle()
        self.browser.refresh()
        self.assertAlmostEqual(float(self.field("Preamp gain").get_attribute("value")), lowered, 1)

    def test_whoever_leaves_at_once_loses_nothing(self):
        self.go("/parts/1/gain/")
        field = self.field("Distance")
        slow = {"offline": False, "latency": 800, "downloadThroughput": -1, "uploadThroughput": -1}
        self.browser.execute_cdp_cmd("Network.enable", {})
        self.browser.execute_cdp_cmd("Network.emulateNetworkConditions", slow)
        try:
            field.send_keys(Keys.CONTROL, "a")
            field.send_keys("37")
            self.find('a[data-shortcut="5"]').click()  # it takes the focus away first, which stores what was typed
            self.wait(lambda: "/place/" in self.browser.current_url)
        finally:
            self.browser.execute_cdp_cmd("Network.emulateNetworkConditions", slow | {"latency": 0})
        self.wait(lambda: self.field("Distance").get_attribute("value") == "37")

    def test_handles_are_sliders_for_the_keyboard(self):
        handle = self.shown('.handle[data-field="distance"]')
        self.assertEqual(handle.get_attribute("role"), "slider")
        before = float(handle.get_attribute("aria-valuenow"))
        self.browser.execute_script("arguments[0].focus()", handle)
        for _ in range(3):
            ActionChains(self.browser).send_keys(Keys.ARROW_UP).perform()
            self.settle()
        self.wait(
            lambda: float(self.shown('.handle[data-field="distance"]').get_attribute("aria-valuenow")) < before * 0.8
        )
        self.assertRegex(self.shown('.handle[data-field="distance"]').get_attribute("aria-valuetext"), r"\d+ cm")
        focused = self.browser.execute_script("return document.activeElement.dataset.field")
        self.assertEqual(focused, "distance")

    def test_shortcuts_and_their_switch(self):
        body = self.find("body")
        body.send_keys("8")
        self.wait(lambda: self.find("h1").text == "Takes")
        self.find("body").send_keys("s")
        self.wait(lambda: self.find("h1").text == "Start")
        self.find("[data-help] summary").click()
        self.find("[data-shortcut-switch]").click()
        self.browser.refresh()
        self.find("body").send_keys("8")
        time.sleep(0.4)
        self.assertEqual(self.find("h1").text, "Start")
        self.browser.delete_cookie("shortcuts")

    def test_listening_from_a_point_of_the_strip(self):
        self.go("/parts/1/takes/")
        self.press("Play a simulated take")
        self.wait_for_text("Predicted beside measured")
        strip = self.shown("[data-strip]")
        ActionChains(self.browser).move_to_element(strip).click().perform()
        self.wait(lambda: self.browser.execute_script("return document.querySelector('audio').currentTime") > 4)

    def test_nothing_leaves_the_machine_and_nothing_is_blocked(self):
        self.browser.get_log("performance"), self.browser.get_log("browser")
        for path in ("/parts/1/start/", "/parts/1/gain/", "/parts/1/takes/", "/songs/"):
            self.go(path)
        for entry in self.browser.get_log("performance"):
            message = json.loads(entry["message"])["message"]
            if message["method"] == "Network.requestWillBeSent":
                address = message["params"]["request"]["url"]
                self.assertTrue(address.startswith((self.server.address, "data:", "chrome:")), address)
        severe = [entry["message"] for entry in self.browser.get_log("browser") if entry["level"] == "SEVERE"]
        self.assertEqual(severe, [])


class WithoutScript(BrowserCase):
    def test_the_loop_by_plain_submits(self):
        self.browser.execute_cdp_cmd("Emulation.setScriptExecutionDisabled", {"value": True})
        self.go("/parts/1/gain/")
        self.field("Distance").clear()
        self.field("Distance").send_keys("27")
        before = self.all("main")[0]  # as it is now: find would follow it
        self.press("Save")
        self.wait(lambda: staleness_of(before)(self.browser))
        self.assertEqual(self.field("Distance").get_attribute("value"), "27")
        self.go("/parts/1/takes/")
        self.press("Play a simulated take")
        self.wait(lambda: [self.browser.refresh(), "Predicted beside measured" in self.find("main").text][1])
        self.browser.execute_cdp_cmd("Emulation.setScriptExecutionDisabled", {"value": False})
