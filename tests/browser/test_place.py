"""The distance ladder in the real product: the microphone by pointer and keys, the angles typed, a school taken."""

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from tests.browser.base import BrowserCase


class TheLadder(BrowserCase):
    HANDLE = ".ladder .handle"

    def value(self, label):
        return float(self.field(label).get_attribute("value"))

    def test_the_microphone_is_dragged_and_stays_there(self):
        self.go("/parts/1/place/")
        before = self.value("Distance")
        ActionChains(self.browser).click_and_hold(self.shown(self.HANDLE)).move_by_offset(90, 0).release().perform()
        self.wait(lambda: self.value("Distance") > before * 1.3)
        placed = self.value("Distance")
        self.wait(lambda: (self.go("/parts/1/place/"), abs(self.value("Distance") - placed) < 0.2)[1])
        self.wait(lambda: (self.go("/parts/1/gain/"), abs(self.value("Distance") - placed) < 0.6)[1])

    def test_it_moves_by_keys_alone_and_keeps_the_focus(self):
        self.go("/parts/2/place/")
        before = self.value("Distance")
        self.keys(self.HANDLE, Keys.ARROW_RIGHT)
        self.wait(lambda: self.value("Distance") > before)
        self.wait(lambda: self.browser.switch_to.active_element.get_attribute("data-field") == "distance")
        farther = self.value("Distance")
        self.keys(self.HANDLE + ":focus", Keys.ARROW_LEFT)
        self.wait(lambda: self.value("Distance") < farther)

    def test_off_the_mouth_there_is_less_of_a_puff(self):
        self.go("/parts/1/place/")
        puff = lambda: float(self.strip("Pops").split()[0].replace("\N{MINUS SIGN}", "-"))  # noqa: E731
        self.type("Off the mouth", "0")
        self.wait(lambda: self.value("Off the mouth") == 0)
        straight = puff()
        self.type("Off the mouth", "30")
        self.wait(lambda: puff() < straight)

    def strip(self, label):
        """Return what a strip says where the microphone stands, out of the picture's description."""
        told = self.shown("svg.ladder").find_element("css selector", "desc").get_attribute("textContent")
        return told.split(f"{label}: ")[1].split(";")[0]
