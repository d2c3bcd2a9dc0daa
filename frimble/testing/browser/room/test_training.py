"""A trainee's drills in the browser, one of each kind, their loupe, and the practice room."""

import os
import shutil
import signal
import subprocess
import sys
import tempfile
from pathlib import Path
from unittest.mock import patch

from django.conf import settings
from django.contrib.auth.hashers import PBKDF2PasswordHasher, make_password
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from frimble.core.training.drill import Asks
from frimble.core.training.skills import SKILLS, drill
from frimble.people import settings as house_settings
from frimble.people.models import Person
from frimble.screens.models import Screen, ScreenEvent
from frimble.testing.browser.base import NARROW, BrowserCase
from frimble.testing.browser.test_every_page import make_pages
from frimble.testing.kept import copy_database, kept_database
from frimble.testing.processes import free_port, wait_until_up
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

    def test_the_loupe_follows_pointer_and_keys(self):
        self.go("/training/")
        self._begin(SKILLS["stencils"].title)
        loupe = lambda: self.driver.find_element(By.CSS_SELECTOR, ".drill-loupe")  # noqa: E731
        self.wait(lambda: "photo" in loupe().value_of_css_property("background-image"))
        photo = self.driver.find_element(By.CSS_SELECTOR, ".drill-photo svg")
        place = lambda: loupe().value_of_css_property("background-position")  # noqa: E731
        ActionChains(self.driver).move_to_element(photo).perform()
        # Source: geometry: the photo's middle, three times as large, lies in the loupe's middle of 140 px.
        wide = photo.size["width"]
        self.wait(lambda: abs(float(place().split("px")[0]) - (140 - 1.5 * wide)) < 6, message=f"{place()} of {wide}")
        before = place()
        photo.send_keys(Keys.ARROW_LEFT)
        self.wait(lambda: float(place().split("px")[0]) > float(before.split("px")[0]))
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


class PracticeRoomTests(BrowserCase):
    """The room's own process beside the shop's, on a folder of the test's."""

    def setUp(self):
        super().setUp()
        kept_database("every page", make_pages)
        hashed = make_password("wim-pennant", hasher=PBKDF2PasswordHasher())
        Person.objects.filter(username="wim").update(password=hashed)
        self.folder = Path(tempfile.mkdtemp(prefix="frimble-practice-"))
        self.addCleanup(shutil.rmtree, self.folder, True)
        (self.folder / "practice").mkdir()
        # The made-up shop is loaded there already: that takes a minute.
        for own in (self.folder, self.folder / "practice"):
            copy_database(own / "frimble.sqlite3")
        self.port = free_port()
        environment = os.environ | {"FRIMBLE_VAR": str(self.folder)}
        environment.pop("DATABASE_URL", None)
        self.room = subprocess.Popen(
            [sys.executable, "manage.py", "practice_room", "--port", str(self.port)],
            cwd=settings.BASE_DIR, env=environment, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
            start_new_session=True,
        )  # fmt: skip
        self.addCleanup(lambda: os.killpg(self.room.pid, signal.SIGKILL))
        wait_until_up(self.room, self.port)

    def test_a_trainee_makes_a_screen_there_and_the_shop_knows_nothing_of_it(self):
        shop, self.base = self.base, f"http://127.0.0.1:{self.port}"
        before = ScreenEvent.objects.count()
        self.sign_in("wim")
        self.sees_anywhere("The made-up shop: nothing here is real")
        code = Screen.objects.filter(state="bare", is_test=False).first().code
        self.go(f"/screens/{code}/do/degrease/")
        self.fill("Degreaser dwell", "60")
        self.choose("Rinsed until no foam")
        self.press("Record degreased")
        self.sees("Still wet")
        self.assertEqual(self.console_errors(), [])
        self.assertEqual(ScreenEvent.objects.count(), before)
        self.base = shop
        self.go("/training/")
        self.wait(lambda: self.driver.find_elements(By.NAME, "password"))

    def sees_anywhere(self, words):
        self.wait(lambda: words in self.driver.find_element(By.TAG_NAME, "body").text, message=words)
