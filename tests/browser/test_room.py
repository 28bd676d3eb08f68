"""The floor plan in the real product: the performer by pointer and keys, a wall clicked, the best hanging taken."""

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from tests.browser.base import BrowserCase


class ThePlan(BrowserCase):
    def value(self, label):
        return float(self.field(label).get_attribute("value"))

    def test_the_performer_is_dragged_and_stays_there(self):
        self.go("/parts/1/room/")
        west, south = self.value("From west"), self.value("From south")
        handle = self.shown('.handle[data-field="stand_x"]')
        ActionChains(self.browser).click_and_hold(handle).move_by_offset(60, -40).release().perform()
        self.wait(lambda: self.value("From west") > west + 0.3 and self.value("From south") > south + 0.2)
        placed = self.value("From west")
        self.wait(lambda: (self.go("/parts/1/room/"), abs(self.value("From west") - placed) < 0.02)[1])

    def test_turned_by_pointer_and_by_keys_alone(self):
        self.go("/parts/2/room/")
        handle, place = self.shown(".handle.turn"), self.shown('.handle[data-field="stand_x"]')
        before = self.value("Facing")
        ActionChains(self.browser).click_and_hold(handle).move_to_element_with_offset(place, 70, 0).release().perform()
        self.wait(lambda: 80 < self.value("Facing") < 100)
        self.keys(".handle.turn", Keys.ARROW_RIGHT)
        self.wait(lambda: 85 < self.value("Facing") < 105)
        self.assertNotEqual(self.value("Facing"), before)

    def test_a_step_by_keys_moves_along_both_axes(self):
        self.go("/parts/3/room/")
        west, south = self.value("From west"), self.value("From south")
        self.keys('.handle[data-field="stand_x"]', Keys.ARROW_RIGHT)
        self.wait(lambda: abs(self.value("From west") - west - 0.1) < 0.02)
        self.wait(lambda: self.browser.switch_to.active_element.get_attribute("data-field") == "stand_x")
        self.keys('.handle[data-field="stand_x"]:focus', Keys.ARROW_UP)
        self.wait(lambda: abs(self.value("From south") - south - 0.1) < 0.02)

    def test_a_wall_is_clicked_the_best_hanging_taken_and_a_wall_chosen_by_the_keyboard(self):
        self.go("/parts/1/room/")
        self.shown('[data-wall="east"]').click()
        self.wait_for_text("on the east")
        self.wait_for_text("Hang what you have where it does most")
        self.press("Apply")
        self.wait_for_text("on the ceiling")
        self.keys('[data-wall="south"]', Keys.ENTER)
        self.wait_for_text("on the south")

    def test_the_microphone_is_dragged_turned_and_lifted(self):
        self.go("/parts/2/room/")
        self.type("From west", "2")
        self.type("Facing", "0")
        self.wait(lambda: self.value("Microphone, west") == 2)
        self.settle()
        handle = self.shown(".floor-plan .handle.microphone")
        ActionChains(self.browser).click_and_hold(handle).move_by_offset(30, 0).release().perform()
        self.wait(lambda: self.value("Microphone, west") > 2.2)
        moved = self.wait(lambda: self.value("Microphone, west"))
        self.keys(".handle.aim", Keys.ARROW_RIGHT)
        self.wait(lambda: self.value("Turned") == 5)
        self.keys('[data-field="above"]', Keys.ARROW_UP)
        self.wait(lambda: self.value("Over the mouth") == 1)
        self.keys('[data-field="mouth"]', Keys.PAGE_DOWN)
        self.wait(lambda: self.value("It sounds at") < 1.3)
        self.go("/parts/2/place/")
        self.wait(lambda: self.value("Microphone turned") == 5 and self.value("Over the instrument") == 1)
        self.go("/parts/2/room/")
        self.wait(lambda: abs(self.value("Microphone, west") - moved) < 0.02)

    def test_the_desk_is_dragged_and_moved_by_typing(self):
        self.go("/parts/1/room/")
        field = lambda: float(self.find("#f3_x").get_attribute("value"))  # noqa: E731
        before = field()
        desk = self.shown('.handle[data-field="f3_x"]')
        ActionChains(self.browser).click_and_hold(desk).move_by_offset(24, 0).release().perform()
        self.wait(lambda: field() > before + 0.1)
        dragged = field()
        self.wait(lambda: (self.go("/parts/1/room/"), abs(field() - dragged) < 0.02)[1])
        self.find("#furniture summary").click()
        self.browser.execute_script("arguments[0].scrollIntoView({block: 'center'})", self.find("#f3_y"))
        self.find("#f3_y").clear()
        self.find("#f3_y").send_keys("0.6", Keys.TAB)
        handle = '.handle[data-field="f3_x"]'
        self.wait(lambda: self.shown(handle).get_attribute("data-now-y") == "0.6")

    def test_a_desk_dragged_into_the_bed_goes_back(self):
        self.go("/parts/1/room/")
        before = self.find("#f3_x").get_attribute("value")
        desk = self.shown('.handle[data-field="f3_x"]')
        ActionChains(self.browser).click_and_hold(desk).move_by_offset(170, 0).release().perform()
        self.wait(lambda: "would stand in" in self.find("#room-problem").text)
        self.wait(lambda: self.find("#f3_x").get_attribute("value") == before)
        self.type("From west", "1.9")
        self.wait(lambda: self.find("#room-problem").text == "")

    def test_what_was_unfolded_beside_the_plan_stays_so_when_something_is_moved(self):
        self.go("/parts/1/room/")
        west = self.value("From west")
        self.find("#heard-echoes summary").click()
        self.keys('.handle[data-field="stand_x"]', Keys.ARROW_RIGHT)
        self.wait(lambda: abs(self.value("From west") - west - 0.1) < 0.02)
        self.wait(lambda: self.browser.switch_to.active_element.get_attribute("data-field") == "stand_x")
        self.settle()
        self.assertTrue(self.find("#heard-echoes").get_attribute("open"))

    def test_a_section_is_fetched_when_it_is_opened_and_closes_the_one_before(self):
        self.go("/parts/1/room/")
        self.assertEqual(self.all('[name="noise_called"]'), [])
        self.find("#noises summary").click()
        self.wait(lambda: (self.find('[name="noise_called"]').send_keys("Kettle"), True)[1])
        self.find("#shape summary").click()
        self.wait(lambda: self.find('[name="surface_floor"]').is_displayed())
        self.assertIsNone(self.find("#noises").get_attribute("open"))
        self.find("#noises summary").click()  # what was typed is still there
        self.assertEqual(self.find('[name="noise_called"]').get_attribute("value"), "Kettle")

    def test_monitors_are_drawn_apart_and_kept(self):
        self.go("/parts/1/room/monitors/")
        before = self.value("Apart")
        handle = self.shown('.handle[data-field="spacing"]')
        ActionChains(self.browser).click_and_hold(handle).move_by_offset(20, 0).release().perform()
        self.wait(lambda: self.value("Apart") > before + 0.2)
        self.keys('.handle[data-field="listen"]', Keys.ARROW_DOWN)
        sat = self.value("You from their line")
        self.wait(lambda: (self.go("/parts/1/room/monitors/"), abs(self.value("You from their line") - sat) < 0.02)[1])

    def test_what_is_folded_away_follows_when_the_hand_lets_go_and_what_is_open_at_once(self):
        self.go("/parts/1/room/")
        folded = lambda name: self.find(f"#{name}").get_attribute("textContent")  # noqa: E731
        self.find("#heard-echoes summary").click()
        echoes, reasons = folded("heard-echoes"), folded("why-1")
        handle = self.shown('.handle[data-field="stand_x"]')
        held = ActionChains(self.browser).click_and_hold(handle)
        held.move_by_offset(70, 0).perform()
        self.wait(lambda: folded("heard-echoes") != echoes)
        self.assertEqual(self.find("#heard-echoes").get_attribute("open"), "true")
        self.assertEqual(folded("why-1"), reasons)  # nobody looks at it
        ActionChains(self.browser).release().perform()
        self.wait(lambda: folded("why-1") != reasons)
        self.settle()
        self.assertEqual(self.find("#heard-echoes").get_attribute("open"), "true")
        now = folded("why-1"), folded("heard-echoes")
        self.go("/parts/1/room/")
        self.assertEqual((folded("why-1"), folded("heard-echoes")), now)
