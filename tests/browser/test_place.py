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
        straight = self.wait(puff)
        self.type("Off the mouth", "30")
        self.wait(lambda: puff() < straight)

    def strip(self, label):
        """Return what a strip says where the microphone stands, out of the picture's description."""
        told = self.shown("svg.ladder").find_element("css selector", "desc").get_attribute("textContent")
        return told.split(f"{label}: ")[1].split(";")[0]

    def test_measured_to_the_grille_or_in_inches_a_drag_writes_what_one_reads(self):
        self.go("/parts/3/place/")
        self.type("Distance", "40")
        self.select("measured to the", "grille")
        self.wait(lambda: self.shown(self.HANDLE).get_attribute("aria-valuenow") == "42.5")
        self.keys(self.HANDLE, Keys.ARROW_RIGHT)
        now = lambda: float(self.shown(self.HANDLE).get_attribute("aria-valuenow"))  # noqa: E731
        self.wait(lambda: now() > 43 and abs(self.value("Distance") - (now() - 2.5)) < 0.11)
        self.select("measured to the", "capsule")
        self.go("/songs/settings/")
        self.select("Lengths", "Feet and inches")
        self.press("Save")
        self.wait_for_text("Saved.")
        self.go("/parts/3/place/")
        self.type("Distance", "1' 8\"")
        self.wait(lambda: now() == 50.8)
        self.keys(self.HANDLE, Keys.ARROW_LEFT)
        self.wait(lambda: now() < 50 and abs(self.value("Distance") * 2.54 - now()) < 0.2)
        self.go("/songs/settings/")
        self.select("Lengths", "Centimetres and metres")
        self.press("Save")
        self.wait_for_text("Saved.")

    def test_a_zone_is_taken_by_a_click_on_the_drawing(self):
        self.go("/parts/2/place/")
        dots = self.all(".zone-dot")
        self.browser.execute_script("arguments[0].scrollIntoView({block: 'center'})", dots[1])
        ActionChains(self.browser).move_to_element(dots[1]).click().perform()
        self.wait(lambda: len(self.all(".zone-dot.is-chosen")) == 1)
        self.assertEqual(self.find(".zone-list .is-chosen b").text, "Towards the upper strings")

    def test_a_blind_trial_from_spots_to_setup(self):
        self.go("/parts/1/place/")
        self.find("#trials summary").click()
        self.press("Try spots blind")
        self.press("Simulate the takes")
        self.wait_for_text("Listen to all of them")
        players = self.all("audio")
        self.assertEqual(len(players), 3)
        self.browser.execute_script("arguments[0].preload = 'auto'; arguments[0].load()", players[0])
        self.wait(lambda: self.browser.execute_script("return arguments[0].duration", players[0]) > 5)
        self.press("Use B")
        self.wait_for_text("What was different")
        taken = self.find(".phrases .is-chosen .muted").text
        self.go("/parts/1/place/")
        self.assertAlmostEqual(self.value("Distance"), float(taken.removesuffix(" cm")), delta=0.6)
        self.assertEqual(self.axe(), [])

    def test_the_instrument_of_a_singer_who_plays_is_dragged(self):
        self.go("/parts/1/place/two/?how=sing")
        told = self.find("#verdict").text
        handle = self.shown('.handle[data-field="ahead_m"]')
        ActionChains(self.browser).click_and_hold(handle).move_by_offset(40, 30).release().perform()
        self.wait(lambda: self.value("Instrument ahead") > 14 and self.value("and below") > 48)
        self.wait(lambda: self.find("#verdict").text != told)
        dragged = self.value("and below")
        self.keys('.handle[data-field="ahead_m"]', Keys.ARROW_UP)
        self.wait(lambda: abs(self.value("and below") - dragged + 2) < 0.6)
