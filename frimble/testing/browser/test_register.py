"""A technician marks a ghost by two taps, walks along a rack with a scanner, and finds screens by keys."""

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from frimble.screens.models import Blemish, Rack, Screen, Slot
from frimble.screens.racks.services import place
from frimble.testing.browser.base import BrowserCase
from frimble.testing.shop import small_shop


class RegisterTests(BrowserCase):
    def setUp(self):
        super().setUp()
        self.people = small_shop()
        self.sign_in("tamsin")

    def test_a_ghost_is_marked_by_two_taps(self):
        self.go("/screens/Q-014/marks/")
        for x, y in ((200, 300), (280, 350)):
            self.tap(x, y)
        self.sees("Say what it is and mark it")
        self.press("Mark it")
        self.sees("ghost image that prints.")
        mark = Blemish.objects.get()
        self.assertEqual(mark.kind, "ghost")
        for seen, meant in ((mark.x_mm, 200), (mark.y_mm, 300), (mark.width_mm, 80), (mark.height_mm, 50)):
            self.assertAlmostEqual(seen, meant, delta=3)
        self.press("It is gone")
        self.sees("No mark is known")
        self.assertEqual(self.console_errors(), [])

    def tap(self, x, y):
        self.driver.execute_script(
            "const s = document.querySelector('.mark-sheet svg'), b = s.getBoundingClientRect();"
            "s.dispatchEvent(new PointerEvent('pointerdown', {bubbles: true,"
            "clientX: b.left + b.width * arguments[0] / 580, clientY: b.top + b.height * arguments[1] / 790}))",
            x,
            y,
        )

    def test_a_walk_with_the_scanner(self):
        slot = Slot.objects.select_related("rack").get(code="A-01")
        place("Q-014", slot, self.people["tamsin"])
        self.go(f"/screens/rack/{Rack.objects.get(code='A').pk}/walk/")
        field = self.driver.find_element(By.ID, "scan-here")
        # As a scanner types: the code and Enter.
        for code in ("A-01", "A-02", "Q-014", "Q-015"):
            field.send_keys(code, Keys.ENTER)
        self.sees("Q-015 is no slot of this rack")
        self.assertEqual(self.field("Slot after slot").get_attribute("value"), "A-01\nA-02 Q-014")
        self.press("Compare")
        self.sees("stands in A-02, written down in A-01")
        self.press("Write it down")
        self.sees("1 screen written down anew")
        self.assertEqual(Screen.objects.get(frame__code="Q-014").slot.code, "A-02")

    def test_found_screens_are_gone_through_by_keys(self):
        self.go("/screens/?text=Q-01")
        self.sees("3 screens")
        self.key(Keys.ARROW_DOWN)
        self.driver.switch_to.active_element.send_keys(Keys.ARROW_DOWN)
        at = self.driver.switch_to.active_element
        self.assertEqual(at.text, "Q-015")
        at.send_keys(Keys.ENTER)
        self.wait(lambda: "/screens/Q-015/" in self.driver.current_url)

    def test_tension_far_from_the_last_is_asked_once_more(self):
        Screen.objects.filter(frame__code="Q-014").update(tension_n_per_cm=12)
        self.go("/screens/Q-014/tension/")
        self.press("Take reading")
        self.wait(lambda: self.driver.find_element(By.NAME, "centre_warp_1").get_attribute("value"))
        Screen.objects.filter(frame__code="Q-014").update(tension_n_per_cm=25)
        self.press("Record tension")
        self.sees("below the last measurement of 25.0")
        self.choose("It is right: I measured again")
        self.press("Record tension")
        self.sees("Tension 1")
        self.assertLess(Screen.objects.get(frame__code="Q-014").tension_n_per_cm, 14)
