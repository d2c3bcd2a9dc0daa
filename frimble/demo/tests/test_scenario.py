from datetime import timedelta
from io import StringIO
from unittest import mock

from django.core.management import call_command
from django.test import TestCase
from django.utils import timezone

from frimble.coatings.models import Batch, Coat
from frimble.exposures.models import ChartEntry, StepTest
from frimble.jobs.models import Handover, PlannedDay
from frimble.people import settings as house_settings
from frimble.people.models import Person
from frimble.screens.ledger import differences
from frimble.screens.models import Screen, ScreenEvent


class ScenarioTests(TestCase):
    @classmethod
    def setUpTestData(cls):
        # In the morning: what is left of a late afternoon holds hardly a step.
        now = timezone.localtime()
        morning = now.replace(hour=8, minute=30) - timedelta(days=now.hour < 9)
        with mock.patch("django.utils.timezone.now", lambda: morning):
            call_command("load_scenario", stdout=StringIO())

    def count(self):
        return [m.objects.count() for m in (Person, Screen, ScreenEvent, Batch, Coat, StepTest, ChartEntry)]

    def test_loading_twice_changes_nothing(self):
        before = self.count()
        call_command("load_scenario", stdout=StringIO())
        self.assertEqual(self.count(), before)

    def test_the_shop_is_as_described(self):
        self.assertEqual(Screen.objects.count(), 64)
        self.assertEqual(Screen.objects.filter(installation__line="thermal").count(), 2)
        self.assertEqual(Screen.objects.filter(frame__material="roller").count(), 6)
        self.assertEqual(Screen.objects.filter(frame__material="wood").count(), 2)
        self.assertEqual(Screen.objects.get(frame__code="Q-014").state, "bare")
        self.assertGreater(ScreenEvent.objects.count(), 3000)

    def test_its_trouble_is_there(self):
        settings = house_settings.current()
        slack = Screen.objects.get(frame__code="Q-019")
        self.assertLess(slack.tension_n_per_cm, settings["tension.poor_below"])
        pair = [Screen.objects.get(frame__code=c).tension_n_per_cm for c in ("Q-006", "Q-033")]
        self.assertGreater(pair[0] - pair[1], 2 * settings["tension.match_within"])
        ghost = ScreenEvent.objects.filter(installation__frame__code="Q-027", kind="reclaim").last()
        self.assertEqual(ghost.facts["outcome"], "ghost")

    def test_every_stored_state_is_what_the_records_say(self):
        result = [line for screen in Screen.objects.for_lists() for line in differences(screen)]
        self.assertEqual(result, [])

    def test_its_day_is_planned_and_the_shift_before_handed_over(self):
        # Common practice, no source.
        plan = PlannedDay.objects.get().plan
        self.assertGreater(len(plan["tasks"]), 20)
        self.assertIn("Q-033", Handover.objects.get().words)

    def test_its_calibrated_times_come_from_its_own_tests(self):
        self.assertGreaterEqual(ChartEntry.objects.count(), 5)
        for entry in ChartEntry.objects.all():
            self.assertTrue(entry.low_s < entry.time_s < entry.high_s)
