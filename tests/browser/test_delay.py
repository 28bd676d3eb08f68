"""Delay in the browser: the buffer by pointer and by keys, what is heard, and the map of a knob."""

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from tests.browser.base import BrowserCase


class Journey(BrowserCase):
    def buffer(self):
        return int(self.find("#buffer").get_attribute("value"))

    def test_the_ears_end_is_moved_by_keys_and_kept(self):
        self.go("/parts/1/delay/")
        before = self.buffer()
        self.keys(".handle[data-field=buffer]", Keys.ARROW_RIGHT)
        self.wait(lambda: self.buffer() == before + 32)
        self.wait(lambda: (self.go("/parts/1/delay/"), self.buffer() == before + 32)[1])
        self.press("Back to the planned buffer")
        self.wait(lambda: self.buffer() == 256)

    def test_the_ears_end_is_dragged(self):
        self.go("/parts/1/delay/")
        handle = self.shown(".handle[data-field=buffer]")
        ActionChains(self.browser).click_and_hold(handle).move_by_offset(-150, 0).release().perform()
        self.wait(lambda: self.buffer() < 256)
        self.assertEqual(self.buffer() % 32, 0)

    def test_hearing_oneself_twice_is_told_at_once(self):
        self.go("/parts/1/delay/")
        self.select("Your own sound", "both ways at once")
        self.wait_for_text("Switch one of the two ways off")
        self.assertIn("Delay\nMendable", self.find("nav#thread").text)
