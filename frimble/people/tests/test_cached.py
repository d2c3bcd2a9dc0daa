"""What is kept is worked out once, and anew when it has to be."""

from django.db import transaction
from django.test import TestCase, override_settings

from frimble.core.settings import HouseSettings
from frimble.people.cached import CachedValue

KEEPING = {"default": {"BACKEND": "django.core.cache.backends.locmem.LocMemCache", "LOCATION": "kept"}}


@override_settings(CACHES=KEEPING)
class KeptTests(TestCase):
    def setUp(self):
        self.kept, self.made = CachedValue("a-value", 60), []
        self.kept.invalidate()
        self.addCleanup(self.kept.invalidate)

    def get(self, settings=None):
        return self.kept.get(lambda: self.made.append(1) or len(self.made), settings)

    def test_it_is_worked_out_once(self):
        self.assertEqual([self.get(), self.get()], [1, 1])

    def test_nothing_is_a_value_too(self):
        self.kept.get(lambda: None)
        self.assertIsNone(self.kept.get(lambda: self.fail("worked out twice")))

    def test_other_house_standards_want_another_value(self):
        aim = HouseSettings({"greyscale.aim": 6})
        self.assertEqual([self.get(HouseSettings()), self.get(HouseSettings()), self.get(aim)], [1, 1, 2])

    def test_forgotten_at_once_and_again_when_committed(self):
        self.get()
        with self.captureOnCommitCallbacks() as after, transaction.atomic():
            self.kept.invalidate()
            # Another page works it out from the state before.
            self.assertEqual(self.get(), 2)
        for commit in after:
            commit()
        self.assertEqual(self.get(), 3)
