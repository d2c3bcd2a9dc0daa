"""Films between other work, promises when coats dry slowly, and what hands take here."""

from math import exp, log

import numpy as np

from frimble.core.planning.dayplan import Task
from frimble.core.planning.planning import first_plan
from frimble.core.planning.promise import latest_ends
from frimble.core.planning.rules import broken_rules
from frimble.core.planning.stages.durations import usual_minutes
from frimble.core.planning.stages.films import BESIDE, plan_with_films
from frimble.core.planning.stages.way import Step
from frimble.core.planning.tests.days import day, dry, screen
from frimble.core.testing.case import CoreCase

_ALL = {"A": ("coat", "expose", "film")}
_FILM = Step("film", 10, "printer")


def coated(code, **more):
    return screen(code, Step("coat", 5), dry(30, **more.pop("dry", {})), Step("expose", 5), **more)


class FilmTests(CoreCase):
    def test_a_film_is_made_while_its_screen_dries(self):
        # Source: by hand: coated to 5, dry at 35; the film in the first free ten minutes, 5 to 15.
        made = plan_with_films(day(coated("a"), people=_ALL, printer=1), {"a": _FILM}, first_plan)
        self.assertEqual(made.films, (Task("a", BESIDE, 5, 15, "A"),))
        self.assertEqual([t.start for t in made.plan.tasks], [0, 5, 35])

    def test_two_films_share_the_printer_and_the_first_exposed_comes_first(self):
        many = day(coated("a"), coated("b", due=45), people=_ALL | {"B": ("film",)}, printer=1)
        made = plan_with_films(many, {"a": _FILM, "b": _FILM}, first_plan)
        starts = sorted((t.start, t.screen) for t in made.films)
        exposed = [t.screen for t in sorted(made.plan.tasks, key=lambda t: t.start) if t.step == 2]
        self.assertEqual([code for _, code in starts], exposed)
        self.assertGreaterEqual(starts[1][0] - starts[0][0], 10)

    def test_where_no_gap_is_left_the_film_is_made_first(self):
        # Source: by hand: coated already, it is exposed at 0 unless its film comes before it.
        made = plan_with_films(day(screen("a", Step("expose", 5)), people=_ALL, printer=1), {"a": _FILM}, first_plan)
        self.assertEqual(made.films, ())
        self.assertEqual([(t.start, t.end) for t in made.plan.tasks], [(0, 10), (10, 15)])
        self.assertEqual(broken_rules(made.day, made.plan.tasks), [])

    def test_what_dries_at_the_start_dries_on_while_its_film_is_made(self):
        drying = screen("a", dry(8, start_within=0), Step("expose", 5))
        made = plan_with_films(day(drying, people=_ALL, printer=1), {"a": _FILM}, first_plan)
        self.assertEqual([(t.start, t.end) for t in made.plan.tasks], [(0, 8), (8, 18), (18, 23)])


class PromiseTests(CoreCase):
    def test_slow_drying_moves_what_follows_on_the_screen_and_for_the_person(self):
        # Source: by hand: a dries 30 to 50 instead of 30: it is exposed 55 to 60; b, planned at 40, then at 60.
        slow = {"minutes_at_most": 50}
        of_day = day(coated("a", dry=slow), screen("b", Step("expose", 5)), people=_ALL)
        tasks = [
            Task("a", 0, 0, 5, "A"), Task("a", 1, 5, 35), Task("a", 2, 35, 40, "A"), Task("b", 0, 40, 45, "A"),
        ]  # fmt: skip
        self.assertEqual(latest_ends(of_day, tasks), {"a": 60, "b": 65})

    def test_a_place_that_stays_taken_holds_up_the_next(self):
        # Source: by hand: one place, taken to 25 instead of 10.
        of_day = day(
            screen("a", dry(10, workstation="cabinet", minutes_at_most=25)),
            screen("b", dry(10, workstation="cabinet")),
            cabinet=1,
        )
        self.assertEqual(latest_ends(of_day, [Task("a", 0, 0, 10), Task("b", 0, 10, 20)]), {"a": 25, "b": 35})

    def test_without_slow_drying_the_promise_is_the_plan(self):
        of_day = day(coated("a"), coated("b"), people=_ALL)
        plan = first_plan(of_day)
        self.assertEqual(latest_ends(of_day, plan.tasks), {t.screen: t.end for t in plan.tasks if t.step == 2})

    def test_nothing_is_promised_once_everybody_has_gone(self):
        of_day = day(coated("a", dry={"minutes_at_most": 60}), end=42, people=_ALL)
        tasks = [Task("a", 0, 0, 5, "A"), Task("a", 1, 5, 35), Task("a", 2, 35, 40, "A")]
        self.assertEqual(latest_ends(of_day, tasks), {"a": None})


class DurationTests(CoreCase):
    def test_without_records_it_is_the_house_setting(self):
        found = usual_minutes("day.wash_min", [], self.house_settings)
        self.assertAlmostEqual(found.value, self.house_settings["day.wash_min"])
        self.assertEqual(found.rests_on, "house setting")

    def test_many_records_are_followed_and_pauses_are_not_work(self):
        # Source: log-normal times of median 10 min drawn by numpy; pauses of hours and records made up at once among them.
        rng = np.random.default_rng(5)
        gaps = [*np.exp(rng.normal(log(10), 0.2, 60)), 180, 400, 0.1, 0.2]
        found = usual_minutes("day.wash_min", gaps, self.house_settings)
        self.assertAlmostEqual(found.value, exp(log(10)), delta=0.7)
        self.assertIn("60 times here", found.rests_on)
        self.assertTrue(found.low < 8 and found.high > 12)
