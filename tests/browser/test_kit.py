"""The Kit screen in the real product: the budget line by pointer and keys, a kit taken, the catalogue searched."""

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.base import BrowserCase


class TheFrontier(BrowserCase):
    def budget(self):
        return float(self.field("Money").get_attribute("value"))

    def line(self):
        return self.shown(".handle.across")

    def test_the_line_is_dragged_and_the_money_kept(self):
        self.go("/parts/1/kit/")
        before = self.budget()
        ActionChains(self.browser).click_and_hold(self.line()).move_by_offset(120, 0).release().perform()
        self.wait(lambda: self.budget() > before + 50)
        self.wait(lambda: float(self.line().get_attribute("aria-valuenow")) == self.budget())
        moved = self.budget()
        self.wait(lambda: (self.go("/parts/1/kit/"), self.budget() == moved)[1])

    def test_the_line_moves_by_keys_alone(self):
        self.go("/parts/1/kit/")
        before = self.budget()
        self.keys(".handle.across", Keys.ARROW_RIGHT)
        self.wait(lambda: self.budget() == before + 5)
        self.wait(lambda: self.browser.switch_to.active_element.get_attribute("data-field") == "budget")

    def test_a_kit_is_looked_at_and_taken(self):
        self.go("/parts/2/kit/")
        self.type("Money", "300")
        self.wait_for_text("300")
        self.press("Set the song up with this kit")
        self.wait_for_text("Every part of the song is set up with this kit")

    def test_the_catalogue_is_searched_as_one_types(self):
        self.go("/gear/")
        self.field("Search").send_keys("ribbon")
        self.wait(
            lambda: "Burdock D" not in self.find("#gear-rows").text and "Foxtail R" in self.find("#gear-rows").text
        )
        self.browser.find_element(By.LINK_TEXT, "Foxtail R").click()
        self.wait_for_text("Data sheet")
        self.press("owned")
        self.wait(lambda: self.find("[name=have][value=owned]").get_attribute("aria-pressed") == "true")
        self.press("to buy")
        self.wait(lambda: self.find("[name=have][value=owned]").get_attribute("aria-pressed") == "false")
