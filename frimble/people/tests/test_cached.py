"""What is kept is worked out once, and anew when it has to be."""

from unittest import mock

from django.db import transaction
from django.test import TestCase, override_settings

from frimble.core.settings import HouseSettings
from frimble.people.cached import CachedValue, changes
from frimble.people.models import Change

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

    def test_settings_that_are_no_house_settings_are_told_apart_by_all_of_them(self):
        planned = dict(HouseSettings())
        later = planned | {"greyscale.aim": 6}
        self.assertEqual([self.get(planned), self.get(dict(planned)), self.get(later)], [1, 1, 2])

    def test_a_change_in_any_process_makes_it_old(self):
        self.get()
        # As another process writes it: this one's cache is not touched.
        changes.record("a-value")
        self.assertEqual([self.get(), self.get()], [2, 2])

    def test_a_change_of_everything_makes_it_old(self):
        self.get()
        changes.record(changes.EVERYTHING)
        self.assertEqual(self.get(), 2)

    def test_a_change_of_something_else_does_not(self):
        self.get()
        changes.record("another-value")
        self.assertEqual(self.get(), 1)

    def test_a_transaction_sees_each_of_its_own_writes(self):
        with transaction.atomic():
            self.kept.invalidate()
            self.get()
            self.kept.invalidate()
            self.assertEqual(self.get(), 2)

    def test_what_was_worked_out_from_a_change_that_was_rolled_back_is_not_kept(self):
        self.get()
        with transaction.atomic():
            self.kept.invalidate()
            self.assertEqual(self.get(), 2)
            transaction.set_rollback(True)
        self.assertEqual(self.get(), 3)
        # The next change bears another token, though perhaps the same number.
        changes.record("a-value")
        self.assertEqual(self.get(), 4)

    def test_what_is_committed_while_it_is_worked_out_makes_it_old(self):
        self.kept.get(lambda: changes.record("a-value"))
        self.assertEqual(self.get(), 1)

    def test_a_request_reads_the_states_once(self):
        # The signals of a request also close old connections, the test's among them.
        changes.begin_request()
        self.addCleanup(changes.end_request)
        other = CachedValue("another-value", 60)
        with self.assertNumQueries(1):
            self.get()
            other.get(lambda: 1)

    def test_old_changes_go_and_the_state_is_told_apart_all_the_same(self):
        with mock.patch.object(changes, "_KEPT", 4):
            states = []
            for _ in range(20):
                changes.record("a-value")
                states.append(changes.state("a-value"))
        self.assertEqual(len(set(states)), 20)
        self.assertLessEqual(Change.objects.count(), 8)

    def test_it_is_the_same_thing_each_time_until_something_changes(self):
        first = self.kept.get(list)
        self.assertIs(self.kept.get(list), first)
        changes.record("a-value")
        self.assertIsNot(self.kept.get(list), first)
