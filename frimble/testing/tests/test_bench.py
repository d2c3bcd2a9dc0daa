"""The shops that speed is measured in can still be built, and every page that is timed answers."""

from unittest.mock import patch

from django.test import TestCase

from bench import light_room, register
from bench.other import drying, exposures, tension, windows
from frimble.core.settings import HouseSettings
from frimble.people.models import Person


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
        _, _, by_hold, _ = drying.released_wet(1, HouseSettings())
        self.assertEqual(len(by_hold), 60)
        self.assertLessEqual(sum(by_hold), 3)

    def test_shops_with_spectra_are_predicted_within_their_intervals(self):
        # Source: Beer–Lambert by band; nine in ten are aimed at, and few shops are looked at here.
        told = [exposures.shop_figures(k, HouseSettings())[12] for k in range(8)]
        held = [h for _, holds, _ in told for h in holds]
        self.assertGreater(len(held), 80)
        self.assertGreater(sum(held) / len(held), 0.8)

    def test_readers_who_lean_and_meshes_of_two_exponentials(self):
        # Source: simulation with known truth; one reader's test, and a young mesh's day of crossing.
        cured, closes, readings = windows.one_test(3, 2)
        self.assertLess(cured, closes)
        self.assertEqual(len({len(r) for r in readings}), 1)
        crossed = [tension.one_shop(k, True, HouseSettings()) for k in range(6)]
        self.assertGreaterEqual(sum(c is not False for c in crossed), 4)
