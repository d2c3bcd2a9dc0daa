"""Lead time from the records, and the last week gone through again."""

from datetime import timedelta
from unittest import mock

from django.utils import timezone

from frimble.jobs.lead import queries
from frimble.screens.ledger import summarize_lives
from frimble.screens.models import Cycle, MeshType, Screen, ScreenEvent
from frimble.testing.case import PageCase
from frimble.testing.shop import small_shop

_MINUTES = {"degrease": 0, "coat": 25, "expose": 120, "wash": 130, "inspect": 165, "to_press": 1000}


class LeadPageTests(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.client.force_login(self.people["tamsin"])

    def record(self, start, number):
        installation = Screen.objects.get(frame__code="Q-014").installation
        cycle = Cycle.objects.create(installation=installation, number=number, started_at=start, closed_at=start)
        rows = {"installation": installation, "cycle": cycle, "by": self.people["tamsin"], "summary": "done"}
        for kind, minute in _MINUTES.items():
            ScreenEvent.objects.create(kind=kind, at=start + timedelta(minutes=minute), **rows)
        summarize_lives()

    def test_too_few_screens_tell_nothing(self):
        self.assertContains(self.client.get("/lead-time/"), "Too few screens to tell")

    def test_week_by_week(self):
        for number in range(5):
            self.record(timezone.now() - timedelta(days=3 + 7 * number), number + 2)
        page = self.client.get("/lead-time/")
        self.assertEqual(sum(week.number for week in page.context["weeks"]), 5)
        self.assertContains(page, "Lead time by the week of press")

    def test_the_bottleneck_is_where_screens_stand_longest(self):
        # Source: by hand: 835 of 1,000 minutes lie between the inspection and the press.
        for number in range(100, 106):
            self.record(timezone.now() - timedelta(days=20), number)
        page = self.client.get("/lead-time/", {"days": "90"})
        self.assertContains(page, "16 h 40 min to press")
        self.assertContains(page, "<b>ready, waiting for press</b>: 13 h 55 min")
        other = MeshType.objects.get(thermal=True)
        self.assertContains(self.client.get("/lead-time/", {"days": "90", "mesh": other.pk}), "Too few screens")
        self.assertEqual(self.client.get("/lead-time/", {"days": "7"}).status_code, 422)

    def test_of_very_many_evenly_taken_ones_are_looked_at_and_the_page_says_so(self):
        for number in range(100, 112):
            self.record(timezone.now() - timedelta(days=20), number)
        self.assertNotContains(self.client.get("/lead-time/"), "was looked at")
        with mock.patch.object(queries, "_MOST_LIVES", 6):
            lives = queries.lives_since(timezone.now() - timedelta(days=90))
            self.assertEqual((lives.every, len(lives.minutes)), (2, 6))
            page = self.client.get("/lead-time/")
        self.assertContains(page, "One screen in 2 was looked at, evenly taken.")
        self.assertContains(page, "16 h 40 min to press")

    def test_the_last_whole_week_is_gone_through_with_one_thing_more(self):
        today = timezone.localtime().replace(hour=9, minute=0, second=0, microsecond=0)
        tuesday = today - timedelta(days=today.weekday() + 6)
        for number in range(100, 104):
            self.record(tuesday, number)
        page = self.client.get("/lead-time/")
        self.assertContains(page, "4 screens as they came")
        # Source: by hand: four come at once; the booth takes 7 min of each, the sink 6: the slower queue decides.
        words = [words for words, _, _ in page.context["replays"]]
        self.assertIn("one more: booth", words)
        self.assertNotIn("as it was", words)
        with mock.patch.object(queries, "_MOST_SCREENS", 3):
            self.assertContains(self.client.get("/lead-time/"), "The first 3 of the 4 screens as they came")
