"""The steps from a bare screen to its first calibrated time, as a person takes them."""

from datetime import timedelta
from unittest import mock

from django.utils import timezone
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from frimble.exposures.models import Run
from frimble.testing.browser.base import BrowserCase

_real_now = timezone.now


class StepsCase(BrowserCase):
    """The server's clock is moved on while things dry; the browser sees the moved clock as the server's."""

    def setUp(self):
        super().setUp()
        self.ahead = timedelta()
        patch = mock.patch("django.utils.timezone.now", lambda: _real_now() + self.ahead)
        patch.start()
        self.addCleanup(patch.stop)

    def later(self, **kwargs):
        self.ahead += timedelta(**kwargs)

    def tension(self):
        self.press("Measure tension")
        self.press("Take reading")
        self.wait(lambda: "N/cm, " in self.text() and "Range" in self.text())
        self.press("Record tension")
        self.sees("Tension 2")

    def coat_and_dry(self, formula, batch_age, batch="SD-08"):
        self.press("Degrease")
        self.choose("Rinsed until no foam")
        self.press("Record degreased")
        self.sees("Still wet")
        self.press("Record mesh dry")
        self.press("Record mesh dry")
        self.press("Coat")
        self.sees(batch_age)
        self.fill("Coat formula", formula)
        self.fill("Emulsion batch", batch)
        self.sees("This layer is held for")
        self.sees("1 stroke on the squeegee side, sharp edge.")
        self.press("Record coat")
        self.sees("Do not expose yet")
        self.go("/expose/Q-014/")
        self.sees("Do not expose yet: coated")
        self.later(hours=3)

    def step_test(self):
        self.go("/screens/Q-014/")
        self.press("Expose")
        self.sees("No calibrated time exists")
        self.press("Plan a step test")
        self.fill("Your guess", "2")
        self.fill("Steps", "4")
        self.press("Work out the plan")
        self.sees("a hand needs 2 s")
        self.fill("Your guess", "4")
        self.fill("Steps", "3")
        self.fill("Series", "equal seconds")
        self.press("Work out the plan")
        self.sees("2 card moves")
        self.choose("Dry: no tack")
        self.press("Go to the timer")
        self.sees("Moving card, 2 moves")
        self.key("t")
        self.sees("cover strip 3 next")
        for moves in (1, 2):
            self.wait(lambda: self.count() < 0.25)
            self.key("t")
            self.wait(lambda n=moves: self.taps() == n + 1)
        self.sees("lamp off next")
        self.wait(lambda: self.count() < 0.25)
        self.key("t")
        self.sees("Recorded.")

    def count(self):
        shown = self.driver.find_element(By.CLASS_NAME, "count").text
        return -float(shown[1:]) if shown.startswith("+") else float(shown)

    def taps(self):
        return Run.objects.latest("pk").taps.count()

    def wash(self, then):
        self.press("Wash out Q-014")
        self.fill("Rinse", "120")
        self.press("Record washed out")
        self.sees(then)

    def read_and_accept(self, person):
        self.press("Read the test")
        self.sees("Read it dry, with a loupe")
        strips = self.driver.find_element(By.CLASS_NAME, "strips")
        strips.find_element(By.CSS_SELECTOR, "input[value=under]").send_keys("s")
        for grade in "gc":
            self.type_keys(Keys.ARROW_RIGHT)
            self.type_keys(grade)
        self.press("Work out the time")
        self.sees("The one good step.")
        self.sees("Middle of what is good")
        self.press("Accept into chart")
        self.sees(f"Accepted by {person}")
