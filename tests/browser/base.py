"""The real product in a real browser: `pneumen demo` on a folder of its own, headless Chromium, visible labels."""

import os
import shutil
import socket
import subprocess
import sys
import tempfile
import time
import unittest
import urllib.request
from pathlib import Path

from selenium import webdriver
from selenium.common.exceptions import StaleElementReferenceException, TimeoutException
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import Select, WebDriverWait

from tests.prepared import once_a_run

WAIT_S = 300
"""Until a state is there, however slow the machine; what never comes fails after so long."""
SWAPS = 5
"""So often in a row what one looks at may be replaced by answers that are on their way."""
ROOT = Path(__file__).resolve().parents[2]
LEVELS = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]
AXE = (Path(__file__).with_name("vendor") / "axe.min.js").read_text()
QUIET = ["--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking"]
QUIET += [
    "--disable-component-update",
    "--disable-sync",
    "--autoplay-policy=no-user-gesture-required",
    "--hide-scrollbars",
]


def first_data():
    """Return a folder with the demo as its first start leaves it, which is made once for a whole run."""
    return once_a_run("first-start", lambda folder: Server(folder).stop())


class Server:
    """The product as people start it; stop and start it again on the same data."""

    def __init__(self, data=None):
        self.data = data or shutil.copytree(first_data(), Path(tempfile.mkdtemp(prefix="pneumen-browser-"), "data"))
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.address = f"http://127.0.0.1:{self.port}"
        self.start()

    def start(self):
        environment = {**os.environ, "PYTHONPATH": str(ROOT / "src"), "PYTHONUTF8": "1"}
        environment.pop("PNEUMEN_DATA", None)
        command = [sys.executable, "-m", "pneumen", "demo", "--data", str(self.data), "--port", str(self.port)]
        self.process = subprocess.Popen(command, env=environment, stdout=subprocess.DEVNULL)
        while self.process.poll() is None:  # until it answers, however slow the machine; the run has its own end
            try:
                urllib.request.urlopen(f"{self.address}/songs/", timeout=5).read()
                return
            except OSError:
                time.sleep(0.1)
        raise RuntimeError(f"pneumen demo ended with {self.process.returncode} before it answered")

    def stop(self):
        self.process.terminate()
        self.process.wait()  # however slow the machine

    def remove(self):
        self.stop()
        shutil.rmtree(self.data.parent, ignore_errors=True)


class Live(WebElement):
    """What stands at a place of the page: where an answer has replaced it meanwhile, what stands there now."""

    def __init__(self, found, selector):
        super().__init__(found.parent, found.id)
        self.selector = selector

    def again(self, act):
        for _ in range(SWAPS):
            try:
                return act()
            except StaleElementReferenceException:
                self._id = self.parent.find_element(By.CSS_SELECTOR, self.selector).id
        return act()

    def _execute(self, command, params=None):
        return self.again(lambda: super(Live, self)._execute(command, params))

    def get_attribute(self, name):
        return self.again(lambda: super(Live, self).get_attribute(name))

    def is_displayed(self):
        return self.again(lambda: super(Live, self).is_displayed())


class BrowserCase(unittest.TestCase):
    """One server and one browser for all tests of a class."""

    width, height = 1280, 800
    arguments = ()
    """What else this class's browser is started with."""

    @classmethod
    def setUpClass(cls):
        cls.server = Server()
        cls.addClassCleanup(cls.server.remove)
        options = webdriver.ChromeOptions()
        for argument in [
            "--headless=new",
            "--no-sandbox",
            f"--window-size={cls.width},{cls.height}",
            *QUIET,
            *cls.arguments,
        ]:
            options.add_argument(argument)
        options.binary_location = shutil.which("chromium")
        options.set_capability("goog:loggingPrefs", {"browser": "ALL", "performance": "ALL"})
        service = webdriver.ChromeService(shutil.which("chromedriver"))
        cls.browser = webdriver.Chrome(options=options, service=service)
        cls.addClassCleanup(cls.browser.quit)
        metrics = {"width": cls.width, "height": cls.height, "deviceScaleFactor": 1, "mobile": False}
        cls.browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)

    def setUp(self):
        # A form the test before sent off last may still be on its way, and would replace the page this one opens.
        self.browser.get("about:blank")

    def go(self, path):
        """Open a page once the one before has stored what was changed on it, as its own links do."""
        self.settle()
        self.browser.get(self.server.address + path)
        # A page counts as loaded before its fonts, which then move what a test is about to take hold of.
        self.browser.execute_async_script("document.fonts.ready.then(() => arguments[0]())")

    def settle(self):
        """Wait until what was typed is stored and drawn: a picture that is swapped lets go of what is dragged in it."""
        self.wait(lambda: not self.all("#settings[aria-busy]"))

    def find(self, selector):
        return Live(self.browser.find_element(By.CSS_SELECTOR, selector), selector)

    def all(self, selector):
        return self.browser.find_elements(By.CSS_SELECTOR, selector)

    def shown(self, selector):
        """Return the one that this window shows: pictures come in a wide and a narrow drawing."""
        return self.wait(lambda: next(one for one in self.all(selector) if one.is_displayed()))

    def keys(self, selector, *keys):
        """Send keys to what this window shows; htmx may replace it between finding and typing."""
        self.wait(lambda: (self.shown(selector).send_keys(*keys), True)[1])

    def press_keys(self, *keys):
        """Press keys where the focus is, as a hand does: no element is held that an answer may replace meanwhile."""
        for key in keys:
            ActionChains(self.browser).send_keys(key).perform()

    def press(self, label):
        """Press the button or link that says this."""
        path = f"//*[self::button or self::a][normalize-space()='{label}']"

        def pressed():  # htmx may replace it between finding and clicking: then find it again
            shown = [element for element in self.browser.find_elements(By.XPATH, path) if element.is_displayed()]
            self.browser.execute_script("arguments[0].scrollIntoView({block: 'center'})", shown[0])
            shown[0].click()
            return True

        self.wait(pressed)

    def field(self, label):
        """Return the field this label stands for."""
        path = f"//label[starts-with(normalize-space(), '{label}')]"
        label = self.wait(lambda: self.browser.find_element(By.XPATH, path).get_attribute("for"))
        return self.wait(lambda: self.browser.find_element(By.ID, label))

    def type(self, label, text):
        field = self.field(label)
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(text, Keys.TAB)

    def select(self, label, text):
        """Choose from the list this label stands for, by the beginning of what is written there."""
        options = Select(self.field(label)).options
        next(option for option in options if option.text.startswith(text)).click()

    def wait(self, condition):
        ignored = [Exception]
        try:
            return WebDriverWait(self.browser, WAIT_S, 0.05, ignored).until(lambda _: condition())
        except TimeoutException as error:
            raise AssertionError(f"not within {WAIT_S} s; {self.where()}") from error

    def where(self):
        """Say which page is open, for a test that waited in vain."""
        page = self.browser.execute_script("return document.body ? document.body.innerText : ''")
        return f"open is {self.browser.current_url}, which begins: {' '.join(page.split())[:300]!r}"

    def wait_for_text(self, text):
        self.wait(lambda: text in self.find("main").text)

    def axe(self):
        """Return the rules of WCAG 2.2 AA this page breaks, each with the first place."""
        self.browser.execute_script(AXE)
        run = "axe.run({runOnly: arguments[0]}).then(arguments[1])"
        found = self.browser.execute_async_script(run, LEVELS)["violations"]
        return [f"{rule['id']}: {rule['nodes'][0]['html'][:120]} ({len(rule['nodes'])})" for rule in found]
