"""From a new job to its screens, the planned day, and a step that is ticked by being done."""

from datetime import timedelta
from unittest.mock import patch

from django.test import override_settings
from django.utils import timezone
from selenium.webdriver.common.by import By

from frimble.jobs.day import services
from frimble.jobs.models import Job
from frimble.screens.models import Frame
from frimble.testing.browser.steps import StepsCase
from frimble.testing.shop import small_shop

_NOW = {"default": {"BACKEND": "django_tasks.backends.immediate.ImmediateBackend"}}


@override_settings(TASKS=_NOW)
class DayTests(StepsCase):
    def setUp(self):
        super().setUp()
        # Tomorrow in the morning: what is left of a late afternoon holds no whole screen.
        now = timezone.localtime()
        self.later(seconds=(now.replace(hour=8, minute=0) + timedelta(days=1) - now).total_seconds())
        small_shop()
        search = patch.object(services, "_SEARCH_S", 0.5)
        search.start()
        self.addCleanup(search.stop)

    def test_a_new_job_gets_its_screens_and_its_place_in_the_day(self):
        self.sign_in("tamsin")
        self.go("/jobs/")
        self.press("New job")
        self._take_in()
        for colour in ("white base", "gold"):
            self._name(colour)
        self.sees("0 of 2 colours are ready")
        self.press("Screens for all coming jobs")
        self.sees("2 of 2 colours have a screen that suits")
        self.press("Hold these screens")
        self.sees("2 screens are held.")
        self.assertEqual(Frame.objects.filter(held_for__job__number="J-402").count(), 2)
        self.press("Day plan")
        self.press("Plan the day")
        self.sees("2 screens today")
        self.sees("Every screen is at press in time")
        self._do_the_first_step()

    def _take_in(self):
        self.fill("Number", "J-402")
        self.fill("Design", "Curlew burgees")
        day = (timezone.localdate() + timedelta(days=3)).isoformat()
        self.driver.execute_script("arguments[0].value = arguments[1]", self.field("At press on"), day)
        self.press("Take it in")
        self.sees("J-402 Curlew burgees")
        self.assertEqual(Job.objects.get(number="J-402").press_on.isoformat(), day)

    def _name(self, colour):
        self.driver.find_element(By.XPATH, "//summary[contains(., 'Say which')]").click()
        self.fill("Colour", colour)
        self.fill("Mesh", "77-48")
        self.press("Save")
        self.sees(colour)

    def _do_the_first_step(self):
        # The page follows what is planned behind it: a link may be drawn anew under the pointer.
        self.do(lambda: self.driver.find_element(By.CSS_SELECTOR, ".called .is-now a").click())
        self.sees("Degrease")
        self.fill("Degreaser dwell", "60")
        self.choose("Rinsed until no foam")
        self.press("Record degreased")
        self.sees("Still wet")
        self.go("/day/")
        self.sees("1 done.")
