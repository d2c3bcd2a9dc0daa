"""A trainee's drills in the browser, one of each kind; a proof's sliders."""

from unittest.mock import patch

from selenium.webdriver.common.by import By

from frimble.core.training.drill import Asks
from frimble.core.training.skills import SKILLS, drill
from frimble.people import settings as house_settings
from frimble.people.models import Person
from frimble.screens.models import ScreenEvent
from frimble.testing.browser.base import NARROW, BrowserCase
from frimble.testing.shop import small_shop
from frimble.training.models import DrillRun


class DrillTests(BrowserCase):
    def setUp(self):
        super().setUp()
        small_shop()
        Person.objects.create_user("wim", password="wim-pennant", first_name="Wim", role="trainee")
        self.sign_in("wim")

    def test_one_drill_of_each_kind(self):
        with patch("frimble.training.services.secrets.randbelow", return_value=5):
            for skill, kind in SKILLS.items():
                self.go("/training/")
                self._begin(kind.title)
                self.sees("Simulated: nothing here is the shop's")
                self._answer(DrillRun.objects.filter(skill=skill).last())
                self.press("Answer")
                self.sees("All right")
        self.assertEqual(DrillRun.objects.filter(score=1).count(), len(SKILLS))
        self.assertFalse(ScreenEvent.objects.exists())
        self.assertEqual(self.console_errors(), [])

    def _begin(self, title):
        button = self.driver.find_element(By.CSS_SELECTOR, f'[aria-label="Drill: {title}"]')
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", button)
        button.click()

    def _answer(self, run):
        for question in drill(run.skill, run.level, run.seed, house_settings.current()).questions:
            self._put(question)

    def _put(self, question):
        if question.asks is Asks.ORDER:
            for place, value in enumerate(question.right, start=1):
                self._type(f"{question.name}_{value}", place)
        elif question.asks is Asks.TAPS:
            self._type(question.name, " ".join(str(v) for v in question.right))
        elif question.asks is Asks.NUMBER:
            self._type(question.name, question.right)
        else:
            for value in [question.right] if question.asks is Asks.ONE else question.right:
                self._tick(question.name, value)

    def _type(self, name, value):
        field = self.driver.find_element(By.NAME, name)
        field.clear()
        field.send_keys(str(value))

    def _tick(self, name, value):
        tick = f'[name="{name}"][value="{value}"], [name="{name}"] option[value="{value}"]'
        control = self.driver.find_element(By.CSS_SELECTOR, tick)
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", control)
        control.click()

    def test_the_clock_takes_taps_and_begins_again(self):
        self.resize(NARROW)
        self.go("/training/")
        self._begin("Expose by the clock")
        self.press("Light on")
        for _ in range(2):
            self.press("Move the card")
        self.sees("2 taken.")
        taps = self.driver.find_element(By.NAME, "taps").get_attribute("value").split()
        self.assertEqual(len(taps), 2)
        self.assertLess(float(taps[0]), float(taps[1]))
        self.press("Again from the start")
        self.assertEqual(self.driver.find_element(By.NAME, "taps").get_attribute("value"), "")
