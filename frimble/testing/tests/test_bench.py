"""The shops that speed is measured in can still be built, and every page that is timed answers."""

from unittest.mock import patch

from django.test import TestCase, override_settings

from bench import light_room, other_shops, register
from frimble.core.settings import HouseSettings
from frimble.people.models import Person


@override_settings(AXES_ENABLED=False)
class RegisterBenchTests(TestCase):
    @classmethod
    def setUpTestData(cls):
        with patch.multiple(light_room, COATED=8, EXPOSURES=40, STRIPS=20):
            register.build(251, 1, 10)

    def test_every_page_that_is_timed_answers(self):
        self.client.force_login(Person.objects.get(), backend="django.contrib.auth.backends.ModelBackend")
        for name, address in register.PAGES.items():
            with self.subTest(name):
                self.assertIn(self.client.get(address).status_code, (200, 302))


class OtherShopTests(TestCase):
    def test_one_shop_of_other_laws_lets_few_coats_go_wet(self):
        # Source: Treybal, constant-rate and falling-rate drying; the aim is two of a hundred over all shops.
        _, _, by_hold, _ = other_shops.released_wet(1, HouseSettings())
        self.assertEqual(len(by_hold), 60)
        self.assertLessEqual(sum(by_hold), 3)
