"""A whole shop goes out as one file and comes into an empty one, whose lead then signs in again."""

import tempfile
from pathlib import Path

from django.test import override_settings
from selenium.webdriver.common.by import By

from frimble.demo import loader
from frimble.exchange.packages import writing
from frimble.people.models import Person
from frimble.screens.models import Screen
from frimble.testing.browser.steps import StepsCase
from frimble.testing.shop import small_shop

_NOW = {"default": {"BACKEND": "django_tasks.backends.immediate.ImmediateBackend"}}


@override_settings(TASKS=_NOW)
class WholeShopTests(StepsCase):
    def test_a_package_comes_into_an_empty_shop_and_one_that_is_none_is_refused(self):
        small_shop()
        screens = Screen.objects.count()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        package, other = Path(folder.name) / "shop.zip", Path(folder.name) / "other.zip"
        with package.open("wb") as file:
            writing.write_package(file)
        other.write_bytes(b"no zip")
        for model in reversed(writing.tables()):
            model._base_manager.all()._raw_delete("default")
        Person.objects.create_user("linnet", first_name="Linnet", role="lead", password=loader.password_of("linnet"))
        self.sign_in("linnet")
        self.go("/exchange/")
        self._hand_in(other)
        self.sees("That is not a data package")
        self._hand_in(package)
        self.sees("The shop is read")
        self.assertEqual(Screen.objects.count(), screens)
        self.sees("You sign in as before")
        self.sign_in("linnet")
        self.go("/screens/Q-014/")
        self.sees("Q-014")

    def _hand_in(self, file: Path):
        self.driver.find_element(By.ID, "shop-file").send_keys(str(file))
        self.press("Read it into this empty shop")
