"""The Part screen in the real product: sections by pointer, keys and fields, added and taken out."""

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.base import BrowserCase


class TheShape(BrowserCase):
    def handle(self, name):
        wanted = [one for one in self.all(".handle") if one.is_displayed()]
        return next(one for one in wanted if one.get_attribute("aria-valuetext").startswith(name))

    def sentence(self):
        return self.find(".verdict").text

    def test_a_section_is_dragged_louder_and_stays_so(self):
        self.go("/parts/1/part/")
        self.assertIn("Chorus is the loudest", self.sentence())
        ActionChains(self.browser).click_and_hold(self.handle("Bridge")).move_by_offset(0, -95).release().perform()
        self.wait(lambda: "Bridge is the loudest" in self.sentence())
        self.go("/parts/1/part/")
        self.wait(lambda: "Bridge is the loudest" in self.sentence())

    def test_a_section_is_moved_by_keys_alone(self):
        self.go("/parts/1/part/")
        before = float(self.handle("Verse 2").get_attribute("aria-valuenow"))
        self.handle("Verse 2").send_keys(Keys.ARROW_DOWN)
        self.wait(lambda: float(self.handle("Verse 2").get_attribute("aria-valuenow")) == before - 1)

    def test_a_shape_is_started_added_to_and_typed(self):
        self.go("/parts/2/part/")
        self.press("Start with verse, chorus, bridge")
        self.wait(lambda: len(self.all(".section-row")) == 5)
        self.find("#own-name").send_keys("Coda")
        self.press("Add section")
        self.wait(lambda: len(self.all(".section-row")) == 6)
        field = self.all("input[name^=loud-]:not([type=range])")[-1]
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys("7", Keys.TAB)
        self.wait(lambda: "Coda is the loudest" in self.sentence())
        self.browser.find_element(By.CSS_SELECTOR, "[aria-label='Remove Coda']").click()
        self.wait(lambda: len(self.all(".section-row")) == 5)

    def test_a_drag_leaves_the_half_filled_form_of_a_backing_track_as_it_is(self):
        self.go("/parts/3/part/")
        self.press("Start with verse, chorus, bridge")
        self.wait(lambda: len(self.all(".section-row")) == 5)
        self.find("#backing").send_keys(__file__)
        loudness = lambda: float(self.handle("Bridge").get_attribute("aria-valuenow"))  # noqa: E731
        before = loudness()
        self.handle("Bridge").send_keys(Keys.ARROW_UP)
        self.wait(lambda: loudness() == before + 1)
        self.settle()
        self.assertTrue(self.find("#backing").get_attribute("value").endswith("test_part.py"))
