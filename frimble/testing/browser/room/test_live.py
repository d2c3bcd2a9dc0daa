"""Pages follow what somebody else records, and lose nothing that is being typed."""

import time

from selenium.webdriver.common.by import By

from frimble.screens.ledger import record
from frimble.screens.models import Screen
from frimble.screens.steps.services import degrease
from frimble.testing.browser.base import BrowserCase
from frimble.testing.shop import small_shop


class LiveTests(BrowserCase):
    def setUp(self):
        super().setUp()
        self.people = small_shop()
        self.sign_in("tamsin")

    def follows(self, words, act):
        """The words come without a hand on this browser; how soon is measured by `bench.server.live_devices`."""
        self.assertNotIn(words, self.driver.find_element(By.TAG_NAME, "body").text)
        act()
        self.wait(lambda: words in self.driver.find_element(By.TAG_NAME, "body").text, message=words)

    def test_today_and_the_line_follow(self):
        self.go("/")
        self.follows("First may be let go", lambda: degrease("Q-014", self.people["odile"], dwell_s=30))
        self.follows("2, first", lambda: degrease("Q-015", self.people["odile"], dwell_s=30))
        self.assertEqual(self.console_errors(), [])

    def test_a_passport_follows_and_keeps_what_was_unfolded(self):
        self.go("/screens/Q-014/")
        fold = self.driver.find_element(By.CSS_SELECTOR, "main details summary")
        fold.click()
        self.follows("Degreased", lambda: degrease("Q-014", self.people["odile"], dwell_s=30))
        self.assertTrue(self.driver.find_element(By.CSS_SELECTOR, "main details").get_attribute("open"))

    def test_what_is_being_typed_stays_while_the_line_follows(self):
        self.go("/screens/Q-014/do/degrease/")
        self.fill("Note", "by the window")
        self.follows("1, first", lambda: degrease("Q-015", self.people["odile"], dwell_s=30))
        self.assertEqual(self.field("Note").get_attribute("value"), "by the window")

    def test_it_goes_on_after_the_network_was_away(self):
        self.go("/")
        self.network(False)
        degrease("Q-014", self.people["odile"], dwell_s=30)
        time.sleep(2)
        self.assertNotIn("First may be let go", self.text())
        self.follows("First may be let go", lambda: self.network(True))

    def test_a_screen_on_the_rack_is_drawn_elsewhere(self):
        self.go("/screens/rack/")
        screen = Screen.objects.get(frame__code="Q-014")
        self.assertIsNone(screen.slot)
        self.follows(
            "1 of 4",
            lambda: record("Q-014", "place", self.people["odile"], facts={"slot": "A-02"}, summary="Put in slot A-02"),
        )
