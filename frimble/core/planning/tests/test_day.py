"""What follows from a day as it is written."""

from dataclasses import replace

from frimble.core.planning.day import LEFT_OUT_MIN, Shift
from frimble.core.planning.dayplan import Cost, DayPlan, Status, Task, cost, ends_of
from frimble.core.planning.tests.days import day, dry, screen, work
from frimble.core.testing.case import CoreCase


class DayTests(CoreCase):
    def test_nothing_is_looked_for_past_the_end_without_overtime(self):
        of_day = day(screen("a", work(5), dry(90)), end=100)
        self.assertEqual((of_day.horizon, of_day.latest_end(of_day.screens[0])), (100, 100))

    def test_with_overtime_only_what_wants_no_hands_to_its_end_goes_on_after_the_last_shift(self):
        # Source: by hand: hours to 120; after the last hands 90 min of drying are left on one screen, none on the other.
        screens = screen("a", work(5), dry(90), overtime=True), screen("b", dry(60), work(5), overtime=True)
        of_day = replace(day(*screens, end=100), shifts=(Shift("A", 0, 120, frozenset({"work"})),))
        self.assertEqual([s.minutes_after_hands for s in screens], [90, 0])
        self.assertEqual(of_day.horizon, 120 + 90)

    def test_a_screen_of_drying_alone_may_begin_when_it_is_ready(self):
        of_day = day(screen("a", dry(50), ready=90, overtime=True), end=100)
        self.assertEqual(of_day.horizon, 150)

    def test_left_out_counts_as_ended_a_day_after_the_end(self):
        # Source: docs of the command: end + 1,440 min, in lateness and in the sum.
        of_day = day(screen("a", work(5), due=90, weight=2), screen("b", work(5)), end=100)
        self.assertEqual(LEFT_OUT_MIN, 1440)
        self.assertEqual(cost(of_day, {"b": 5}), Cost(2 * (1540 - 90), 1540 + 5))

    def test_hours_too_short_for_a_step_are_no_help(self):
        of_day = replace(
            day(screen("a", work(30))),
            shifts=(Shift("A", 0, 20, frozenset({"work"})), Shift("B", 0, 40, frozenset({"work"}))),
        )
        self.assertEqual([s.person for s in of_day.able(work(30))], ["B"])


class PlanTests(CoreCase):
    def test_the_first_goal_counts_before_the_second(self):
        self.assertLess(Cost(1, 900), Cost(2, 100))
        self.assertLess(Cost(1, 100), Cost(1, 900))
        self.assertFalse(Cost(1, 100) < Cost(1, 100))

    def test_a_screen_ends_with_its_last_task(self):
        tasks = [Task("a", 1, 9, 12), Task("a", 0, 0, 4, "A"), Task("b", 0, 4, 6, "A")]
        self.assertEqual(ends_of(tasks), {"a": 12, "b": 6})

    def test_lateness_is_proven_by_a_bound_that_reaches_it(self):
        plan = DayPlan(Status.FEASIBLE, Cost(60, 500), 60, 400, (), ())
        self.assertTrue(plan.late_proven)
        self.assertFalse(replace(plan, bound=59).late_proven)
        self.assertFalse(replace(plan, status=Status.INFEASIBLE).late_proven)
