"""Plans against what is known to be best, and against another solver."""

import random
from dataclasses import replace

from frimble.core.planning.day import Day, ScreenWork, Shift, Step
from frimble.core.planning.dayplan import Cost, Status, ends_of
from frimble.core.planning.planning import first_plan, plan_day
from frimble.core.planning.rules import broken_rules
from frimble.core.planning.search.bounds import Bounds
from frimble.core.planning.search.occupied import Room
from frimble.core.planning.tests.days import ENOUGH_S, START, day, dry, screen, work
from frimble.core.planning.tests.exactly import least_cost
from frimble.core.testing.case import CoreCase


def small_day(seed: int) -> Day:
    """Three or four screens in half an hour, with every rule but loads."""
    rng = random.Random(seed)
    kinds = ("coat", "wash")
    shifts = [Shift("A", 0, rng.choice([12, 30]), frozenset(kinds)), Shift("B", 5, 30, frozenset({rng.choice(kinds)}))]
    if shifts[0].end == 12:
        shifts.append(Shift("A", 15, 26, frozenset(kinds)))
    screens = []
    for k in range(rng.randint(3, 4)):
        steps = [
            Step(rng.choice(kinds), rng.randint(2, 5), rng.choice([None, "bench"])),
            Step("dry", rng.randint(3, 8), "cabinet", hands=False, start_within=rng.choice([None, 1])),
            Step(rng.choice(kinds), rng.randint(2, 4), "bench", start_within=rng.choice([None, 3])),
        ]
        if k == 0 and rng.random() < 0.5:
            steps = [replace(steps[1], start_within=0), steps[2]]
        screens.append(
            ScreenWork(f"S{k}", tuple(steps), rng.choice([None, 8, 15, 25]), rng.choice([0, 0, 4]), rng.choice([1, 3]))
        )
    screens[0] = replace(screens[0], ready=0)
    return Day(START, 30, tuple(shifts), {"bench": 1, "cabinet": rng.choice([1, 2])}, tuple(screens))


class AgainstAnotherSolverTests(CoreCase):
    def test_small_days_cost_what_an_integer_programme_says(self):
        # Source: scipy.optimize.milp on a time-indexed programme of the same rules.
        proven = 0
        for seed in range(12):
            of_day = small_day(seed)
            # It ends as soon as the plan is proven; a busy machine may need longer.
            plan = plan_day(of_day, ENOUGH_S)
            if plan.status is Status.INFEASIBLE:
                continue
            with self.subTest(seed):
                self.assertEqual(plan.cost, least_cost(of_day))
                self.assertEqual(broken_rules(of_day, plan.tasks), [])
                self.assertLessEqual(plan.bound, plan.cost.late)
                self.assertLessEqual(plan.bound_sum, plan.cost.sum_of_ends)
                proven += plan.status is Status.OPTIMAL
        self.assertGreater(proven, 8)

    def test_bounds_by_work_and_hours_are_never_above_the_least_cost(self):
        # Source: as above.
        told = 0
        for seed in range(20, 32):
            of_day = small_day(seed)
            if plan_day(of_day, 0).status is Status.INFEASIBLE:
                continue
            bounds, least = Bounds(Room(of_day)), least_cost(of_day)
            with self.subTest(seed):
                self.assertLessEqual(bounds.late(), least.late)
                self.assertLessEqual(bounds.sum_of_ends(least.late), least.sum_of_ends)
                told += bounds.late() > 0
        self.assertGreater(told, 2)


class KnownBestTests(CoreCase):
    def test_short_work_first_ends_soonest_on_the_whole(self):
        # Source: Smith, "Various optimizers for single-stage production" (1956): shortest first, here 1+3+6+10+15.
        minutes = (4, 2, 5, 1, 3)
        plan = plan_day(day(*(screen(f"s{m}", work(m)) for m in minutes)), ENOUGH_S)
        self.assertEqual((plan.status, plan.cost), (Status.OPTIMAL, Cost(0, 35)))
        self.assertEqual([t.screen for t in plan.tasks], ["s1", "s2", "s3", "s4", "s5"])

    def test_with_all_due_at_once_weight_by_minutes_decides(self):
        # Source: Smith (1956), weighted: order by minutes / weight; 2/2, 6/3, 3/1 → 2·2 + 3·8 + 1·11 = 39.
        screens = [
            screen("a", work(3), due=0),
            screen("b", work(6), due=0, weight=3),
            screen("c", work(2), due=0, weight=2),
        ]
        plan = plan_day(day(*screens), ENOUGH_S)
        self.assertEqual((plan.cost.late, plan.late_proven), (39, True))
        self.assertEqual([t.screen for t in plan.tasks], ["c", "b", "a"])

    def test_two_machines_in_a_row_take_no_longer_than_johnson_s_order(self):
        # Source: Johnson (1954): coat 4/5, 1/6, 9/2, 3/3 → order 1/6, 3/3 or 4/5, …, 9/2 last; the last one ends at 19.
        pairs = ((4, 5), (1, 6), (9, 2), (3, 3))
        steps = [(Step("coat", a, "bench"), Step("wash", b, "booth")) for a, b in pairs]
        screens = [ScreenWork(f"s{k}", own, due=19) for k, own in enumerate(steps)]
        room = day(*screens, people={"A": ("coat",), "B": ("wash",)}, bench=1, booth=1)
        self.assertEqual(
            (plan_day(room, ENOUGH_S).cost.late, plan_day(replace(room, end=18), ENOUGH_S).left_out != ()), (0, True)
        )

    def test_a_load_is_one_person_s_work_and_one_lamp_s(self):
        # Source: docs of the command: three steps of one load that start together hold one place.
        lit = [screen(code, work(7, workstation="lamp", load="L"), due=7) for code in "abc"]
        plan = plan_day(day(*lit, lamp=1), ENOUGH_S)
        self.assertEqual((plan.status, plan.cost), (Status.OPTIMAL, Cost(0, 21)))
        apart = [screen(s.code, replace(s.steps[0], load=None), due=7) for s in lit]
        self.assertEqual(plan_day(day(*apart, lamp=1), ENOUGH_S).cost, Cost(7 + 14, 7 + 14 + 21))


class LeftOutTests(CoreCase):
    def test_what_finds_no_room_is_left_out_whole_and_says_what_it_waits_for(self):
        # Source: docs of the command: counts as ended 1,440 min after the day's end.
        first = screen("a", work(30, workstation="lamp"), due=30, weight=2)
        plan = plan_day(day(first, screen("b", work(30, workstation="lamp"), due=30), end=40, lamp=1), ENOUGH_S)
        self.assertEqual((plan.left_out, plan.cost), (("b",), Cost(1480 - 30, 30 + 1480)))
        self.assertEqual(plan.why, {"b": "lamp"})

    def test_who_and_what_is_missing_is_named(self):
        # Source: docs of the command: why names the station or person.
        nobody = plan_day(day(screen("a", Step("coat", 5)), people={"A": ("wash",)}), ENOUGH_S)
        self.assertEqual(nobody.why, {"a": "somebody who can coat"})
        busy = plan_day(day(screen("a", work(30), due=30, weight=9), screen("b", work(30), due=31)), ENOUGH_S)
        self.assertEqual((busy.cost.late, busy.why), (29, {"b": "A"}))
        alone = plan_day(day(screen("a", work(30), due=20)), ENOUGH_S)
        self.assertIn("its own steps", alone.why["a"])

    def test_overtime_runs_past_the_end_but_nobody_works_past_their_hours(self):
        # Source: docs of the command.
        late = screen("a", work(5), dry(50))
        self.assertEqual(plan_day(day(late, end=40), ENOUGH_S).left_out, ("a",))
        over = plan_day(day(replace(late, overtime=True), end=40), ENOUGH_S)
        self.assertEqual(ends_of(over.tasks), {"a": 55})
        hands = screen("a", dry(50), work(5), overtime=True)
        self.assertEqual(plan_day(day(hands, end=40), ENOUGH_S).left_out, ("a",))


class UnderWayTests(CoreCase):
    def test_a_running_step_goes_on_at_the_start(self):
        # Source: docs of the command: start_within 0 on a first step.
        under_way = screen("a", dry(20, start_within=0, workstation="cabinet"), work(5))
        plan = first_plan(day(screen("b", dry(5, workstation="cabinet"), weight=9, due=5), under_way, cabinet=1))
        self.assertEqual([t.start for t in plan.tasks if t.screen == "a"], [0, 20])

    def test_two_running_steps_on_one_place_cannot_both_go_on(self):
        # Source: docs of the command: the only reason for infeasible.
        two = [screen(code, dry(20, start_within=0, workstation="cabinet")) for code in "ab"]
        plan = plan_day(day(*two, cabinet=1), ENOUGH_S)
        self.assertEqual((plan.status, plan.tasks, plan.left_out), (Status.INFEASIBLE, (), ("a", "b")))
        self.assertEqual(plan_day(day(*two, cabinet=2), ENOUGH_S).status, Status.OPTIMAL)

    def test_one_that_cannot_be_ended_is_left_out_and_keeps_its_place(self):
        # Source: docs of the command: infeasible only when the running step itself cannot go on.
        stuck = screen("a", dry(20, start_within=0, workstation="cabinet"), Step("coat", 5))
        plan = plan_day(day(stuck, screen("b", dry(5, workstation="cabinet")), cabinet=1), ENOUGH_S)
        self.assertEqual((plan.left_out, ends_of(plan.tasks)), (("a",), {"b": 25}))
        self.assertNotEqual(plan.status, Status.INFEASIBLE)
