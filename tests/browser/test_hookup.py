"""Hookup in the browser: a choice at a joint, its fault, the press that cures it, the checklist, the search by keys."""

from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.base import BrowserCase


class Joints(BrowserCase):
    def test_a_switch_is_left_off_told_and_cured_without_leaving_the_page(self):
        self.go("/parts/1/hookup/")
        self.wait_for_text("nothing is wrong on the way out and back")
        Select(self.field("48 V")).select_by_visible_text("off")
        self.wait_for_text("is silent without 48 V")
        self.assertTrue(self.all(".loop .joint.v-baked-in"))
        self.assertIn("Would bake in", self.find("nav#thread").text)
        self.press("48 V on here")
        self.wait_for_text("nothing is wrong on the way out and back")
        self.assertFalse(self.all(".loop .joint.v-baked-in"))

    def test_the_checklist_is_ticked_and_still_is_after_a_visit_elsewhere(self):
        self.go("/parts/1/hookup/")
        first = self.all('#order input[type="checkbox"]')[0]
        first.send_keys(Keys.SPACE)
        self.wait(lambda: (self.go("/parts/1/hookup/"), self.all('#order input[type="checkbox"]')[0].is_selected())[1])

    def test_the_fault_is_searched_by_keys_alone(self):
        self.go("/parts/1/hookup/search/")
        self.find(".row-actions a").send_keys(Keys.ENTER)
        self.wait_for_text("Was anything changed")
        self.all(".row-actions a")[1].send_keys(Keys.ENTER)
        self.wait_for_text("Likely cures now")
        self.browser.back()
        self.wait_for_text("Was anything changed")
