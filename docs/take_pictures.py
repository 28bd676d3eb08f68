"""Take the pictures of docs/screenshots from fresh demo data, in the real product."""

import sys
import tempfile
import time
from pathlib import Path

import soundfile
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

ROOT = Path(__file__).resolve().parents[1]
sys.path[:0] = [str(ROOT), str(ROOT / "src")]

from tests.browser.base import BrowserCase  # noqa: E402 - the repository's root has to be found first
from tests.browser.test_live import known_file  # noqa: E402
from tests.core.test_minute import RATE_HZ, recorded  # noqa: E402

PICTURES = ROOT / "docs" / "screenshots"


class Photographer(BrowserCase):
    """Uses the tests' server and browser."""

    def look(self, path: str, name: str, *, theme: str = "light", width: int = 1280, height: int = 800) -> None:
        metrics = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False}
        self.browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
        self.browser.add_cookie({"name": "theme", "value": theme, "path": "/"})
        self.go(path)
        time.sleep(0.5)
        self.browser.save_screenshot(str(PICTURES / f"{name}.png"))

    def spend(self, money: str) -> None:
        self.go("/parts/1/kit/")
        self.type("Money", money)
        time.sleep(1.5)

    def play(self, part: int) -> None:
        self.go(f"/parts/{part}/takes/")
        self.press("Play a simulated take")
        self.wait_for_text("Predicted beside measured")

    def log(self) -> None:
        """Judge two takes, plan layers, and look at both."""
        self.play(1)
        for key in ("r", "f", "f", "i"):
            self.keys("body", key)
            time.sleep(0.7)
        self.play(1)
        self.keys("body", "r")
        time.sleep(0.7)
        self.look("/parts/1/takes/log/", "log")
        self.go("/parts/1/takes/layers/")
        self.press("Plan these three")
        for number, take in ((0, "1"), (1, "2"), (2, "3")):
            Select(self.all("select[name=take]")[number]).select_by_value(take)
            self.all("form:has(select[name=take]) button")[number].click()
            time.sleep(1)
        self.look("/parts/1/takes/layers/", "layers", theme="dark", height=720)

    def sheet(self) -> None:
        """Sing the whole song three times, choose, make the track and the package, and look at both."""
        for part in (1, 2, 3):
            for _ in range(3):
                self.go(f"/parts/{part}/takes/")
                whole = self.all("button[name=whole]")
                if whole:
                    whole[0].click()
                else:
                    self.press("Play a simulated take")
                self.wait(lambda: self.all("#strip-title"))
        self.go("/parts/1/comp/")
        self.keys("button[value=sections]", Keys.ENTER)
        self.wait(lambda: self.all(".lyric-take"))
        for line, take in ((2, 6), (4, 5), (7, 6)):
            takes = self.all(f".lyric-line[data-line='{line}'] .lyric-take")
            takes[min(take, len(takes)) - 1].click()
            time.sleep(1)
        self.press("Make the track")
        self.wait(lambda: self.all("[data-track-audio]"))
        self.look("/parts/1/comp/?line=4", "comp", height=900)
        self.go("/parts/1/send/")
        self.find("#recipient").send_keys("Mira")
        self.press("Make the package")
        self.wait(lambda: self.all("a[href$='package.zip']"))
        self.look("/parts/1/send/", "send", theme="dark", height=1100)

    def listen(self) -> None:
        """Look at a take that is being recorded from what the browser's stand-in for a device plays."""
        self.look("/parts/1/gain/live/", "listen")
        self.press("Listen")
        self.wait(lambda: "dBFS" in self.find("[data-moment]").text)
        self.press("Arm a take")
        self.wait(lambda: "Recording 0:07" in self.find("[data-moment]").text)
        self.browser.execute_script("scrollTo(0, 0)")
        self.browser.save_screenshot(str(PICTURES / "listen.png"))

    def check(self, folder: str) -> None:
        """Send a one-minute check that is made of what is known."""
        path = Path(folder) / "check.wav"
        soundfile.write(path, recorded(leak_dbfs=-62.0)[0], RATE_HZ, subtype="PCM_24")
        self.go("/parts/1/gain/minute/")
        self.find("#minute-file").send_keys(str(path))
        self.press("Measure it")
        self.wait_for_text("What it told")
        self.look("/parts/1/gain/minute/1/", "minute", theme="dark", height=720)


def main() -> None:
    PICTURES.mkdir(exist_ok=True)
    folder = tempfile.TemporaryDirectory(prefix="pneumen-pictures-")
    known = known_file(folder.name, quiet_s=4)
    Photographer.arguments = (
        "--use-fake-device-for-media-stream",
        "--use-fake-ui-for-media-stream",
        f"--use-file-for-fake-audio-capture={known}%noloop",
    )
    Photographer.setUpClass()
    photographer = Photographer()
    try:
        photographer.go("/")
        photographer.look("/parts/1/start/", "start", height=1000)
        photographer.look("/parts/1/part/", "part")
        photographer.spend("300")
        photographer.look("/parts/1/kit/", "kit", height=900)
        photographer.spend("60")
        photographer.look("/parts/1/room/", "room", height=860)
        photographer.look("/parts/2/hookup/", "hookup", height=860)
        photographer.look("/parts/1/place/", "place", height=860)
        photographer.look("/parts/2/place/#zones", "place-zones", theme="dark", height=760)
        photographer.look("/parts/1/place/two/?how=sing", "two", height=720)
        photographer.look("/gear/", "catalogue")
        photographer.look("/parts/1/gain/", "gain-by-section", height=1500)
        photographer.look("/parts/2/gain/", "gain-bare-knob", theme="dark")
        photographer.look("/parts/1/delay/", "delay", height=900)
        photographer.play(1)
        photographer.look("/parts/1/takes/?take=1&from=4&to=7", "takes", height=900)
        photographer.log()
        photographer.sheet()
        photographer.check(folder.name)
        photographer.listen()
    finally:
        Photographer.doClassCleanups()
        folder.cleanup()


if __name__ == "__main__":
    main()
