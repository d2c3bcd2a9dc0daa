"""Today goes by the day's plan: whose turn it is, what waits for others, and what no plan speaks of."""

from datetime import timedelta
from unittest import mock

from django.utils import timezone

from frimble.core.lifecycle import State
from frimble.films.models import Film
from frimble.jobs import today
from frimble.jobs.frame.floor import Floor
from frimble.jobs.tests.planned.test_day import DayCase, at
from frimble.jobs.tests.planned.test_day_page import plan, task
from frimble.jobs.turn import turn_of
from frimble.people import settings as house_settings
from frimble.people.models import Person
from frimble.screens.models import Screen
from frimble.screens.steps.services import degrease


class TurnCase(DayCase):
    def setUp(self):
        # By day: the plans of these tests are from 08:00 to 16:00.
        self.now = at(9)
        clock = mock.patch("django.utils.timezone.now", lambda: self.now)
        clock.start()
        self.addCleanup(clock.stop)
        super().setUp()

    def planned(self, *tasks, **more):
        kept = plan(*tasks, **more)
        kept.by = self.people["odile"]
        kept.save()

    def put(self, code, state, **more):
        given = {"since": self.now - timedelta(hours=1)} | more
        Screen.objects.filter(frame__code=code).update(state=state, **given)

    def next_for(self, name):
        settings = house_settings.current()
        return today.next_thing(Floor.read(), settings, [], turn_of(self.people[name], timezone.now(), settings))


class TurnTests(TurnCase):
    def test_one_s_own_step_whose_time_has_come_goes_before_all_else(self):
        self.put("Q-014", State.DEGREASED)
        self.put("Q-015", State.EXPOSED)
        self.planned(
            task("Q-014", "coat", 65, 3, "Tamsin"), task("Q-015", "wash", 60, 6, "Bertrand"),
            task("Q-014", "expose", 150, 5, "Tamsin"), jobs={"Q-014": "J-301 gold"},
        )  # fmt: skip
        thing = self.next_for("tamsin")
        self.assertEqual(thing.headline, "Coat Q-014")
        self.assertIn("By the day plan: 09:05, Tamsin, for J-301 gold.", thing.detail)
        self.assertEqual([(word, t.words, t.screen) for word, t in thing.then], [("Next", "Expose", "Q-014")])
        self.assertEqual(self.next_for("bertrand").headline, "Wash out Q-015")

    def test_what_is_not_ready_lets_the_next_of_one_s_own_go_first(self):
        self.put("Q-014", State.DEGREASED, wet_until=self.now + timedelta(minutes=20))
        self.put("Q-015", State.DEGREASED)
        self.planned(task("Q-014", "coat", 50, 3, "Tamsin"), task("Q-015", "coat", 61, 3, "Tamsin"))
        thing = self.next_for("tamsin")
        self.assertEqual((thing.headline, [t.screen for _, t in thing.then]), ("Coat Q-015", ["Q-014"]))

    def test_what_no_plan_speaks_of_fills_the_time_until_then(self):
        self.put("Q-014", State.DEGREASED)
        self.put("Q-016", State.PRINTED)
        self.planned(task("Q-014", "coat", 120, 3, "Tamsin"))
        self.assertEqual(self.next_for("tamsin").headline, "Strip ink Q-016")
        self.put("Q-016", State.BARE)
        self.assertEqual(self.next_for("tamsin").headline, "Coat Q-014 at 10:00")

    def test_what_should_have_begun_says_what_it_waits_for(self):
        self.put("Q-014", State.DEGREASED, wet_until=self.now + timedelta(minutes=20))
        self.planned(task("Q-014", "coat", 50, 3, "Tamsin"))
        thing = self.next_for("tamsin")
        self.assertEqual(thing.headline, "Coat Q-014 at 08:50")
        self.assertIn("Still wet", thing.detail)

    def test_whoever_has_no_part_in_it_sees_what_waits_and_whose_it_is(self):
        self.put("Q-014", State.DEGREASED)
        self.planned(task("Q-014", "coat", 70, 3, "Tamsin"))
        thing = self.next_for("odile")
        self.assertEqual(thing.headline, "Coat Q-014")
        self.assertTrue(thing.detail.startswith("By the day plan: 09:10, Tamsin."))

    def test_what_somebody_is_long_behind_with_is_anybody_s(self):
        self.put("Q-014", State.EXPOSED)
        self.planned(task("Q-014", "wash", 40, 6, "Bertrand"), task("Q-015", "degrease", 200, 5, "Tamsin"))
        # Source: by hand: it was to end at 08:46, ten minutes before 08:56.
        self.assertEqual(self.next_for("tamsin").headline, "Wash out Q-014")
        self.now = at(8, 55)
        self.assertEqual(self.next_for("tamsin").headline, "Degrease Q-015 at 11:20")

    def test_a_shared_tablet_calls_everybody(self):
        station = Person.objects.create(username="wall", role=Person.Role.STATION)
        self.people["wall"] = station
        self.planned(task("Q-014", "degrease", 40, 6, "Bertrand"), task("Q-015", "degrease", 46, 6, "Tamsin"))
        thing = self.next_for("wall")
        self.assertEqual((thing.headline, [t.person for _, t in thing.then]), ("Degrease Q-014", ["Tamsin"]))
        self.assertIn("Bertrand", thing.detail)

    def test_of_two_with_one_name_each_has_their_own(self):
        Person.objects.filter(username="bertrand").update(first_name="Tamsin")
        self.people["bertrand"].refresh_from_db()
        self.planned(
            task("Q-014", "degrease", 40, 6, "Tamsin (bertrand)"), task("Q-015", "degrease", 46, 6, "Tamsin (tamsin)")
        )
        self.assertEqual(self.next_for("bertrand").headline, "Degrease Q-014")
        self.assertEqual(self.next_for("tamsin").headline, "Degrease Q-015")

    def test_a_film_is_made_until_the_colour_has_one(self):
        self.planned(task("Q-014", "film", 40, 15, "Tamsin"), numbers={"Q-014": "J-301"})
        thing = self.next_for("tamsin")
        self.assertEqual((thing.headline, thing.button), ("Make the film for Q-014", "Add the film"))
        self.assertIn("job=J-301", thing.url)
        Film.objects.create(
            name="White", job_number="J-301", separation="White", made_at=self.now, made_by=self.people["odile"]
        )
        self.assertIsNone(self.next_for("tamsin"))

    def test_a_plan_of_another_day_says_nothing(self):
        self.planned(task("Q-014", "degrease", 40, 6, "Tamsin"))
        self.now += timedelta(days=1)
        self.assertIsNone(self.next_for("tamsin"))

    def test_a_step_that_is_recorded_makes_room_for_the_next(self):
        self.planned(task("Q-014", "degrease", 60, 6, "Tamsin"), task("Q-015", "degrease", 66, 6, "Tamsin"))
        self.assertContains(self.client.get("/"), "Degrease Q-014")
        degrease("Q-014", self.people["tamsin"], dwell_s=60)
        page = self.client.get("/")
        self.assertContains(page, "By the day plan: 09:06, Tamsin.")
        self.assertNotContains(page, "called-word")
