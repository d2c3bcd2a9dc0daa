"""The passport's decisions: what leads, what else is offered, what is said of the mesh's life."""

from datetime import date, timedelta
from types import SimpleNamespace

from django.test import TestCase
from django.utils import timezone

from frimble.core.lifecycle import State
from frimble.people import settings as house_settings
from frimble.screens.models import Screen, open_among
from frimble.screens.passport import presenters
from frimble.screens.passport.presenters import _forecast_words
from frimble.testing.records import record
from frimble.testing.shop import small_shop


class ToDoTests(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.people = small_shop()
        cls.tamsin = cls.people["tamsin"]

    def through(self, *kinds):
        for kind in kinds:
            record("Q-014", kind, self.tamsin, summary=kind)

    def todo(self, **changed):
        """What the page offers for Q-014 as its records leave it, or changed on the page alone."""
        screen = Screen.objects.for_lists().get(frame__code="Q-014")
        for name, value in changed.items():
            setattr(screen, name, value)
        cycles = list(screen.installation.cycles.all())
        screen.open_cycle = open_among(cycles)
        events = presenters.events_of(screen.installation, cycles)
        return presenters.to_do(screen, events, timezone.now(), house_settings.current())

    def words(self, todo):
        return [action.words for action in todo.actions]

    def test_one_thing_leads_and_it_is_what_the_work_asks_for(self):
        # Common practice, no source. The order of the work: degrease, coat, expose, wash, inspect, press, strip, reclaim.
        wanted = ("Degrease", "Coat", "Expose", "Wash out", "Inspect", "Send to press", "Back from press", "Strip ink")
        done = ("degrease", "coat", "expose", "wash", "inspect", "to_press", "from_press")
        for label, kind in zip(wanted, (*done, None), strict=True):
            todo = self.todo()
            self.assertEqual(todo.headline, label)
            self.assertEqual([a.words for a in todo.actions if a.main], [label])
            if kind:
                self.through(kind)

    def test_what_is_wet_says_how_long_and_leads_nowhere(self):
        self.through("degrease")
        todo = self.todo(wet_until=timezone.now() + timedelta(minutes=12))
        self.assertIn("Still wet", todo.headline)
        waiting = next(s for s in todo.steps if s.label == "Coat")
        self.assertTrue(waiting.overridable and waiting.open and not waiting.allowed)

    def test_a_coated_screen_is_measured_and_tested_and_a_wet_one_only_felt(self):
        self.through("degrease", "coat")
        dry = self.words(self.todo())
        for words in ("Is it dry", "Plan a step test", "Measure the coat"):
            self.assertIn(words, dry)
        wet = self.words(self.todo(wet_until=timezone.now() + timedelta(minutes=30)))
        self.assertIn("Is it dry", wet)
        self.assertNotIn("Plan a step test", wet)

    def test_a_frame_without_mesh_is_mounted_and_not_measured(self):
        todo = self.todo(state=State.NO_MESH)
        self.assertIn("Mount new mesh", self.words(todo))
        self.assertNotIn("Measure tension", self.words(todo))
        self.assertFalse(presenters.has_mesh(SimpleNamespace(state=State.NO_MESH)))

    def test_a_screen_in_a_slot_or_on_press_is_not_put_away(self):
        self.assertIn("Put in rack", self.words(self.todo()))
        self.assertNotIn("Put in rack", self.words(self.todo(state=State.AT_PRESS)))

    def test_a_finished_stencil_may_be_kept(self):
        self.assertNotIn("Keep or reclaim", self.words(self.todo()))
        for state in (State.PRINTED, State.STRIPPED, State.READY):
            self.assertIn("Keep or reclaim", self.words(self.todo(state=state)))

    def test_every_action_leads_to_a_page(self):
        self.client.force_login(self.tamsin)
        self.through("degrease", "coat")
        todo = self.todo()
        self.assertGreater(len(todo.actions), 5)
        for action in todo.actions:
            with self.subTest(action.words):
                self.assertEqual(self.client.get(action.url).status_code, 200)


class RecordsPartTests(TestCase):
    def setUp(self):
        self.tamsin = small_shop()["tamsin"]

    def part(self, whole=False):
        screen = Screen.objects.for_lists().get(frame__code="Q-014")
        cycles = list(screen.installation.cycles.all())
        screen.open_cycle = open_among(cycles)
        return presenters.records_part(screen, presenters.events_of(screen.installation, cycles), whole)

    def a_cycle(self, impressions):
        for kind in ("degrease", "coat", "expose", "wash", "inspect", "to_press"):
            record("Q-014", kind, self.tamsin, summary=kind)
        record("Q-014", "from_press", self.tamsin, summary="back", facts={"impressions": impressions})
        record("Q-014", "strip", self.tamsin, summary="ink out")
        record("Q-014", "reclaim", self.tamsin, summary="clean", facts={"rounds": 2, "minutes": 9})

    def test_impressions_rounds_and_minutes_add_up(self):
        for impressions in (120, 80):
            self.a_cycle(impressions)
        # Source: arithmetic.
        self.assertEqual(self.part().totals, {"impressions": 200, "rounds": 4, "minutes": 18})

    def test_old_cycles_are_folded_until_they_are_asked_for(self):
        for _ in range(8):
            self.a_cycle(10)
        part, whole = self.part(), self.part(whole=True)
        self.assertEqual(part.earlier, len(whole.by_cycle) - len(part.by_cycle))
        self.assertGreater(part.earlier, 0)
        self.assertEqual(whole.earlier, 0)

    def test_what_is_on_the_mesh_is_told_oldest_first_and_gone_after_a_reclaim(self):
        for kind in ("degrease", "coat", "expose"):
            record("Q-014", kind, self.tamsin, summary=kind)
        self.assertEqual([e.kind for e in self.part().on_it], ["coat", "expose"])
        self.a_cycle_ends()
        self.assertEqual(self.part().on_it, [])

    def a_cycle_ends(self):
        for kind in ("wash", "reclaim"):
            record("Q-014", kind, self.tamsin, summary=kind)

    def test_a_record_once_taken_back_is_not_taken_back_again(self):
        record("Q-014", "degrease", self.tamsin, summary="degreased")
        self.assertTrue(self.part().may_take_back)


class ForecastWordsTests(TestCase):
    def life(self, verdict, days=(date(2026, 8, 1), date(2026, 6, 3), None)):
        crossing = SimpleNamespace(verdict=verdict)
        return SimpleNamespace(
            forecast=SimpleNamespace(crossing=crossing), crossing_days=lambda: days, one_in_ten_day=lambda: days[1]
        )

    def test_the_day_stands_with_the_day_of_the_first_in_ten(self):
        words = _forecast_words(self.life("will cross"))
        self.assertEqual(
            words, "More likely than not under the limit from 1 August 2026, one in ten such by 3 June 2026."
        )

    def test_what_holds_or_is_below_already_is_said_without_a_day(self):
        holds = _forecast_words(self.life("holds", (None, None, None)))
        self.assertEqual(holds, "Its tension holds as far as is predicted; fewer than one in ten such cross.")
        self.assertIn("one in ten such by 3 June 2026", _forecast_words(self.life("holds")))
        self.assertEqual(_forecast_words(self.life("below the limit")), "Its tension is below the limit.")
        self.assertEqual(_forecast_words(SimpleNamespace(forecast=None)), "")
