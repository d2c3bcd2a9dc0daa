"""On a phone what is aside is folded, opens by a tap, and stays open where something was refused in it."""

from selenium.webdriver.common.by import By

from frimble.exposures.models import Lamp
from frimble.testing.browser.base import NARROW, WIDE, BrowserCase
from frimble.testing.shop import small_shop


class PhoneTests(BrowserCase):
    def setUp(self):
        super().setUp()
        small_shop()
        self.sign_in("tamsin")

    def fold(self, title):
        """The section of a heading."""
        return self.driver.find_element(By.XPATH, f"//details[@data-aside][summary/h2[normalize-space(.)='{title}']]")

    def tap(self, element):
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", element)
        element.click()

    def is_open(self, title):
        return self.fold(title).get_attribute("open") is not None

    def test_a_passport_folds_its_records_and_opens_them_by_a_tap(self):
        self.resize(NARROW)
        self.go("/screens/Q-014/")
        self.wait(lambda: not self.is_open("Its records"))
        # Common practice, no source: what is done next is seen without scrolling.
        main = self.driver.find_element(By.CSS_SELECTOR, "a.button.main")
        self.assertLess(main.rect["y"] + main.rect["height"], NARROW[1])
        self.tap(self.fold("Its records").find_element(By.TAG_NAME, "summary"))
        self.wait(lambda: self.is_open("Its records"))
        self.resize(WIDE)
        self.wait(lambda: self.is_open("Its records") and self.is_open("Mesh"))

    def test_what_was_refused_stays_in_sight(self):
        self.resize(NARROW)
        address = f"/expose/lamps/{Lamp.objects.get().pk}/"
        self.go(address)
        self.wait(lambda: not self.is_open("Hours"))
        self.tap(self.fold("Hours").find_element(By.TAG_NAME, "summary"))
        self.driver.find_element(By.NAME, "hours").send_keys("many")
        self.tap(self.fold("Hours").find_element(By.TAG_NAME, "button"))
        self.sees("is not a number")
        self.assertTrue(self.is_open("Hours"))
        self.assertFalse(self.is_open("Evenness"))

    def test_nine_readings_lie_as_the_glass_does(self):
        self.go(f"/expose/lamps/{Lamp.objects.get().pk}/")
        inputs = self.driver.find_elements(By.CSS_SELECTOR, ".nine input")
        self.assertEqual(len(inputs), 9)
        rows = [[i.rect for i in inputs[k : k + 3]] for k in (0, 3, 6)]
        for row in rows:
            self.assertEqual(len({round(r["y"]) for r in row}), 1)
            self.assertEqual(sorted(row, key=lambda r: r["x"]), row)
        self.assertEqual(inputs[4].get_attribute("aria-label"), "Middle")
        self.assertLess(rows[0][0]["y"], rows[1][0]["y"])


class HelpTests(BrowserCase):
    def setUp(self):
        super().setUp()
        small_shop()
        self.sign_in("tamsin")

    def help(self):
        return self.driver.find_element(By.ID, "keys").text

    def test_a_page_explains_the_words_that_stand_on_it(self):
        self.go("/screens/Q-014/tension/")
        self.key("?")
        self.wait(lambda: "How to: Tension" in self.help())
        self.assertIn("The threads along the length of the cloth.", self.help())
        self.assertNotIn("A small grey scale on an ordinary screen", self.help())
        self.driver.find_element(By.LINK_TEXT, "Read it").click()
        self.sees("Lay the screen flat, print side down")
        self.assertEqual(self.console_errors(), [])

    def test_it_opens_by_a_tap_and_says_so_without_a_network(self):
        self.go("/screens/Q-014/tension/")
        self.network(False)
        self.driver.find_element(By.CSS_SELECTOR, "[data-open-help]").click()
        self.wait(lambda: "Without a network the keys alone are here" in self.help())
        self.network(True)
