"""Today: the one next thing, a row for each station, and what wants a look, each with its reason."""

from datetime import timedelta

from django.test import RequestFactory
from django.utils import timezone

from frimble.coatings.models import Batch
from frimble.core.lifecycle import State
from frimble.demo import loader
from frimble.jobs import today
from frimble.jobs.frame import context
from frimble.jobs.frame.floor import Floor
from frimble.people import settings as house_settings
from frimble.people.models import Person
from frimble.screens.models import Screen
from frimble.testing.case import PageCase
from frimble.testing.shop import small_shop


class TodayCase(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.client.force_login(self.people["tamsin"])
        self.now = timezone.now()

    def put(self, code, state, **more):
        given = {"since": self.now - timedelta(hours=1)} | more
        Screen.objects.filter(frame__code=code).update(state=state, **given)

    def next_thing(self):
        return today.next_thing(Floor.read(), house_settings.current(), [])

    def looks(self):
        result = today.wants_a_look(Floor.read(), house_settings.current(), [], today.lamp_runs(timezone.now())[1])
        return {row["who"]: row["words"] for row in result}


class NextThingTests(TodayCase):
    def test_nothing_waits_in_a_room_of_bare_screens(self):
        self.assertIsNone(self.next_thing())

    def test_the_furthest_along_goes_before_the_rest(self):
        # Common practice, no source. An exposed stencil cannot wait; a degreased mesh can, a print longest.
        self.put("Q-016", State.PRINTED)
        self.assertEqual(self.next_thing().headline, "Strip ink Q-016")
        self.put("Q-015", State.DEGREASED)
        self.assertEqual(self.next_thing().headline, "Coat Q-015")
        self.put("Q-014", State.EXPOSED)
        self.assertEqual(self.next_thing().headline, "Wash out Q-014")

    def test_a_coated_screen_without_a_coat_on_record_is_told_without_a_time(self):
        # Common practice, no source.
        self.put("Q-014", State.COATED)
        self.assertIn("What lies on it is not on record", self.next_thing().detail)

    def test_of_two_at_a_station_the_one_that_waits_longest(self):
        self.put("Q-014", State.EXPOSED, since=self.now - timedelta(minutes=5))
        self.put("Q-015", State.EXPOSED, since=self.now - timedelta(minutes=50))
        self.assertEqual(self.next_thing().headline, "Wash out Q-015")

    def test_what_is_on_press_or_kept_asks_for_nothing(self):
        for code, state in (("Q-014", State.AT_PRESS), ("Q-015", State.READY), ("Q-016", State.STRIPPED)):
            self.put(code, state)
        self.assertIsNone(self.next_thing())

    def test_what_dries_is_no_task_yet(self):
        self.put("Q-014", State.DEGREASED, wet_until=self.now + timedelta(minutes=20))
        self.assertIsNone(self.next_thing())


class RowTests(TodayCase):
    def rows(self):
        return {row["name"]: row for row in today.rows(Floor.read(), [])}

    def test_only_stations_with_screens_have_a_row_in_the_order_of_the_work(self):
        self.put("Q-014", State.WASHED)
        self.put("Q-015", State.DEGREASED)
        self.assertEqual(list(self.rows()), ["coat", "wash"])
        self.assertEqual(self.rows()["coat"]["words"], "1 degreased.")

    def test_a_station_says_how_many_of_each_kind_stand_there(self):
        self.put("Q-014", State.PRINTED)
        self.put("Q-015", State.FAILED)
        self.put("Q-016", State.FAILED)
        words = self.rows()["reclaim"]["words"]
        self.assertIn("1 back from press, ink in", words)
        self.assertIn("2 stencil failed, to reclaim", words)

    def test_drying_says_when_the_first_is_dry(self):
        self.put("Q-014", State.DEGREASED, wet_until=self.now + timedelta(minutes=25))
        self.put("Q-015", State.DEGREASED, wet_until=self.now + timedelta(minutes=90))
        self.assertIn("First may be let go in 2", self.rows()["dry"]["words"])


class LookTests(TodayCase):
    def test_a_room_in_order_wants_no_look(self):
        self.assertEqual(self.looks(), {})

    def test_an_old_coat_a_slack_mesh_and_an_old_batch_are_named_with_their_reason(self):
        self.put("Q-014", State.COATED, coated_at=self.now - timedelta(days=40))
        Screen.objects.filter(frame__code="Q-015").update(tension_n_per_cm=17.04)
        Batch.objects.update(mixed_at=self.now - timedelta(days=200))
        looks = self.looks()
        self.assertEqual(looks["Q-014"], "was coated 40 days ago; coats keep 28.")
        self.assertEqual(looks["Q-015"], "is down to 17.0 N/cm.")
        (batch,) = (words for who, words in looks.items() if "SD-08" in who)
        self.assertIn("200 days old", batch)

    def test_the_page_shows_them_with_where_they_are_seen_to(self):
        Screen.objects.filter(frame__code="Q-015").update(tension_n_per_cm=17.04)
        page = self.client.get("/")
        self.assertContains(page, "is down to 17.0 N/cm.")
        self.assertContains(page, 'href="/screens/Q-015/"')


class FrameTests(TodayCase):
    def frame(self):
        request = RequestFactory().get("/")
        request.user = self.people["tamsin"]
        return context.line(request)["frame"]

    def test_the_stops_are_those_of_the_work_and_each_key_opens_one(self):
        line = self.frame().line
        self.assertEqual(
            [stop.name for stop in line],
            ["Today", "Film", "Mesh", "Coat", "Dry", "Expose", "Wash", "Press", "Reclaim", "Rack"],
        )
        self.assertEqual([stop.key for stop in line], list("1234567890"))
        for stop in (*line, *self.frame().side_line):
            with self.subTest(stop.name):
                self.assertEqual(self.client.get(stop.url).status_code, 200)

    def test_the_screens_that_dry_first_run_at_the_top(self):
        for code, minutes in (("Q-014", 50), ("Q-015", 20), ("Q-016", 90)):
            self.put(code, State.DEGREASED, wet_until=self.now + timedelta(minutes=minutes))
        timers = self.frame().timers
        self.assertEqual([t.words for t in timers], ["Q-015 dry", "Q-014 dry"])
        self.assertEqual(timers[0].url, "/screens/Q-015/")

    def test_nobody_signed_in_has_no_frame(self):
        request = RequestFactory().get("/")
        self.assertEqual(context.line(request), {"light": "day", "safelight": False, "dark_picture": 0})


class NextTimeTests(PageCase):
    """Next is a screen to expose whose time is calibrated: found by malformed input, which had finished all else."""

    def test_the_time_stands_with_its_lamp_and_film_process(self):
        loader.load(timezone.now())
        ready = Screen.objects.get(frame__code="Q-011")
        others = Screen.objects.exclude(pk=ready.pk).exclude(state__in=("bare", "no_mesh", "away"))
        others.update(state="bare", wet_until=None)
        self.client.force_login(Person.objects.get(username="odile"))
        page = self.client.get("/")
        self.assertContains(page, "Expose Q-011 for")
        self.assertContains(page, "Lantern A, Inkjet")
