"""From three simulated takes of each part to a comp and a package, by keys and by pointer, in the real product."""

import io
import json
import subprocess
import sys
import tempfile
import urllib.request
import zipfile
from pathlib import Path

import soundfile
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.base import ROOT, BrowserCase


class FromTakesToAPackage(BrowserCase):
    def takes(self, part, count=3):
        for number in range(1, count + 1):
            self.go(f"/parts/{part}/takes/")
            whole = [one for one in self.all("button[name=whole]") if one.is_displayed()]
            if whole:
                whole[0].click()
            else:
                self.press("Play a simulated take")
            self.wait(lambda number=number: f"Take {number}" in self.find("#strip-title").text)

    def click(self, selector):
        self.wait(lambda: (self.shown(selector).click(), True)[1])

    def lines(self):
        return self.all(".lyric-line")

    def taken(self, number):
        return self.lines()[number].get_attribute("data-chosen")

    def test_the_waltz_goes_from_takes_to_a_package(self):
        for part in (1, 2, 3):
            self.takes(part)
        self.go("/parts/1/comp/")
        self.click("button[value=sections]")
        self.wait(lambda: len(self.lines()) == 8)
        self.by_keys_alone()
        self.by_pointer()
        self.click("button[name=accept]")
        self.wait(lambda: "Every line has its take" in self.find(".verdict").text)
        self.press("Make the track")
        self.wait(lambda: self.all("[data-track-audio]"))
        self.assertTrue(self.all(".lyric-seam .badge-line"))
        for part in (2, 3):
            self.go(f"/parts/{part}/comp/")
            self.click("button[value=phrases]")
            self.wait(lambda: self.lines())
            self.press("Make the track")
            self.wait(lambda: self.all("[data-track-audio]"))
        self.the_package()

    def by_pointer(self):
        """Press a take under a line: two takes in one track make a seam."""
        other = next(one for one in ("1", "2") if one != self.taken(1))
        self.click(f".lyric-line:nth-of-type(5) .lyric-take[data-take='{other}']")
        self.wait(lambda: len({self.taken(number) for number in range(8)}) > 1)
        before = float(self.lines()[2].get_attribute("data-start"))
        handle = self.lines()[2].find_element(By.CSS_SELECTOR, ".lyric-when")
        ActionChains(self.browser).click_and_hold(handle).move_by_offset(30, 0).release().perform()
        self.wait(lambda: abs(float(self.lines()[2].get_attribute("data-start")) - before - 0.3) < 0.02)

    def is_on_line(self):
        """Whether the focus is back where it was, once the answer stands."""
        return self.browser.switch_to.active_element.get_attribute("data-line") is not None

    def by_keys_alone(self):
        """Down a line, right a take, Enter: the line is underlined by another take; a mark by its letter."""
        self.lines()[0].click()
        self.press_keys(Keys.ARROW_DOWN)
        self.wait(lambda: self.find("[data-detail] h2").text == "Line 2")
        before = self.taken(1)
        self.press_keys(*([Keys.ARROW_RIGHT] * 2 if before != "3" else [Keys.ARROW_LEFT] * 2))
        here = self.find(".lyric-take.is-here").get_attribute("data-take")
        self.assertNotEqual(here, before)
        self.press_keys(Keys.ENTER)
        self.wait(lambda: "is-proposed" not in self.lines()[1].get_attribute("class"))
        self.assertEqual(self.taken(1), here)
        self.wait(self.is_on_line)
        self.wait(lambda: self.all(f'[data-marks-of="{here}"]'))
        self.press_keys("r")
        self.wait(lambda: "Rhythm good" in self.find(f'[data-marks-of="{here}"]').text)
        self.wait(self.is_on_line)
        self.press_keys("b")
        self.wait(lambda: self.find("#blind").get_attribute("open") is not None)
        self.find("#blind").send_keys(Keys.ESCAPE)
        self.wait(lambda: self.find("#blind").get_attribute("open") is None)
        self.lines_by_keys()

    def lines_by_keys(self):
        """A line is moved, split and joined again, also by keys that do not wait for an answer."""
        begins = self.begins_at()
        self.on_line_two("..")
        self.wait(lambda: abs(self.begins_at() - begins - 0.1) < 0.001)
        self.on_line_two(",,x")
        self.wait(lambda: len(self.lines()) == 9)
        self.assertAlmostEqual(self.begins_at(), begins, delta=0.001)
        self.on_line_two("j")
        self.wait(lambda: len(self.lines()) == 8)
        self.wait(self.is_on_line)

    def begins_at(self):
        return round(float(self.lines()[1].get_attribute("data-start")), 2)

    def on_line_two(self, keys):
        self.wait(self.is_on_line)
        self.wait(lambda: self.find("[data-detail] h2").text == "Line 2" and self.find("#begin"))
        self.press_keys(*keys)

    def the_package(self):
        self.go("/parts/1/send/")
        self.assertEqual(len(self.all(".manifest thead th")), 4)
        self.find("#recipient").send_keys("Mira")
        self.press("Make the package")
        self.wait(lambda: self.all("a[href$='package.zip']"))
        self.assertIn("Read back", self.find("[aria-labelledby=package-title]").text)
        address = self.find("a[href$='package.zip']").get_attribute("href")
        archive = zipfile.ZipFile(io.BytesIO(urllib.request.urlopen(address).read()))
        manifest = json.loads(archive.read("manifest.json"))
        self.assertEqual([one["name"] for one in manifest["files"]], ["Voice", "Lever harp", "Clarinet"])
        with tempfile.TemporaryDirectory() as folder:
            archive.extractall(folder)
            lengths = {soundfile.info(Path(folder) / one["file"]).frames for one in manifest["files"]}
            self.assertEqual(len(lengths), 1)
            self.assertEqual(self.sent_again(Path(folder), manifest, lengths.pop()), manifest["files"])

    def sent_again(self, folder, manifest, frames):
        """Send the same files on the command line: it must say the same of them."""
        rate = manifest["files"][0]["sample_rate_hz"]
        files = [{"name": one["name"], "file": one["file"]} for one in manifest["files"]]
        pack = {"song": manifest["song"], "rate_hz": rate, "bits": 24, "length_s": frames / rate, "files": files}
        (folder / "pack.json").write_text(json.dumps(pack))
        command = [sys.executable, "-m", "pneumen", "send", str(folder / "pack.json"), str(folder / "again")]
        environment = {"PYTHONPATH": str(ROOT / "src"), "PYTHONUTF8": "1", "PATH": "/usr/bin:/bin"}
        answer = subprocess.run(command, capture_output=True, check=True, env=environment)
        return json.loads(answer.stdout)["files"]
