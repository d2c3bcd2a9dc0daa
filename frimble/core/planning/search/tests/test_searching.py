"""The parts of the search, each against the rules of the day and against plans that are known."""

import random
import time
from dataclasses import replace

from ortools.sat.python import cp_model

from bench.other.days import day as made_up_day
from frimble.core.planning.dayplan import Task, cost, ends_of
from frimble.core.planning.planning import plan_day
from frimble.core.planning.reading import read_day
from frimble.core.planning.rules import broken_rules
from frimble.core.planning.search.apart import reinserted_apart, shares
from frimble.core.planning.search.bounds import Bounds
from frimble.core.planning.search.dispatch import RULES, around, best_dispatched, by_due_time, dispatched
from frimble.core.planning.search.model import PartModel
from frimble.core.planning.search.occupied import Occupied, Room
from frimble.core.planning.search.parts import search
from frimble.core.planning.search.reinsertion import Arrangement, reinserted
from frimble.core.planning.search.running import with_held_places
from frimble.core.planning.standing import Standing
from frimble.core.planning.tests.days import day, dry, screen, work
from frimble.core.testing.case import CoreCase


def made_up(seed: int, screens: int) -> Room:
    return Room(read_day(made_up_day(seed, screens)))


def by_screen(tasks) -> dict[str, list[Task]]:
    own: dict[str, list[Task]] = {}
    for task in sorted(tasks, key=lambda t: t.step):
        own.setdefault(task.screen, []).append(task)
    return own


def told_nothing(model: cp_model.CpModel) -> list[int]:
    """Variables that can be more than one thing, and have no hint."""
    told = set(model.proto.solution_hint.vars)
    return [
        k
        for k, variable in enumerate(model.proto.variables)
        if k not in told and variable.domain[0] != variable.domain[len(variable.domain) - 1]
    ]


class DispatchTests(CoreCase):
    def test_no_rule_s_plan_breaks_a_rule_of_the_day(self):
        # Source: the rules of the day, checked apart from the search.
        for seed in range(40, 52):
            room = made_up(seed, 15 + seed % 20)
            for rule in RULES:
                with self.subTest((seed, rule.__name__)):
                    tasks = dispatched(room, rule)
                    under_way = {s.code for s in room.day.screens if s.running}
                    if under_way <= ends_of(tasks).keys():
                        self.assertEqual(broken_rules(room.day, tasks), [])

    def test_others_go_around_what_stands(self):
        room = Room(day(screen("a", work(10), due=10), screen("b", work(10), due=5)))
        tasks = around(room, [Task("a", 0, 3, 13, "A")], by_due_time)
        self.assertEqual({t.screen: t.start for t in tasks}, {"a": 3, "b": 13})


class ReinsertionTests(CoreCase):
    """Screens taken out and put in again, held against the day's rules and what a plan costs by itself."""

    def test_what_is_found_breaks_no_rule_and_is_never_worse_than_the_best_rule(self):
        # Source: the rules of the day, checked apart from the search.
        for seed in range(60, 66):
            room = made_up(seed, 20)
            first = best_dispatched(room)
            found = reinserted(room, first, random.Random(1), iter(k / 150 for k in range(150)))
            self.assertFalse(cost(room.day, ends_of(first)) < cost(room.day, ends_of(found)))
            if not broken_rules(room.day, first):
                self.assertEqual(broken_rules(room.day, found), [])

    def test_the_costs_kept_are_those_of_the_plan(self):
        # Source: the plan's cost worked out anew from its tasks.
        for seed in range(70, 76):
            room = made_up(seed, 25)
            arrangement, rng = Arrangement(room, best_dispatched(room)), random.Random(seed)
            for _ in range(20):
                out = rng.sample(range(25), rng.randint(1, 9))
                arrangement = arrangement.without(out)
                for number in out:
                    arrangement.put(number)
            plain = cost(room.day, ends_of(arrangement.tasks()))
            self.assertAlmostEqual(arrangement.total, plain.late * 1000 + plain.sum_of_ends, places=3)

    def test_what_is_taken_out_and_put_in_again_takes_what_it_took(self):
        # Source: a room in which nothing was ever put.
        for seed in range(70, 76):
            room = made_up(seed, 25)
            arrangement = Arrangement(room, best_dispatched(room))
            again = Arrangement(room, arrangement.tasks())
            empty = again.without(range(25))
            self.assertEqual(empty.taken.people, Occupied(room).people)
            self.assertEqual(empty.taken.places, Occupied(room).places)
            self.assertFalse(any(empty.taken.loads.values()))
            self.assertEqual(again.taken.people, arrangement.taken.people)

    def test_a_load_of_two_is_given_back_with_the_second(self):
        # Source: by hand: both lie under one lamp from the first minute on.
        exposed = work(10, load="frames")
        room = Room(day(screen("a", exposed), screen("b", exposed)))
        both = Arrangement(room, dispatched(room, by_due_time))
        self.assertEqual([spots[0].start for spots in both.spots], [0, 0])
        self.assertEqual(both.without([0]).taken.people, both.taken.people)
        self.assertEqual(both.without([0, 1]).taken.people, Occupied(room).people)

    def test_it_does_not_hang_on_the_clock(self):
        # Source: the same draws and the same shares make the same plan.
        room = made_up(62, 18)
        first = best_dispatched(room)
        plans = [reinserted(room, first, random.Random(4), iter(k / 80 for k in range(80))) for _ in range(2)]
        self.assertEqual(*plans)

    def test_screens_under_way_stay_where_they_are(self):
        room = Room(day(screen("a", replace(work(10), start_within=0)), screen("b", work(5), due=5)))
        first = best_dispatched(room)
        found = reinserted(room, first, random.Random(2), iter(k / 30 for k in range(30)))
        self.assertEqual([t for t in found if t.screen == "a"], [Task("a", 0, 0, 10, "A")])

    def test_a_process_of_its_own_answers_in_time_with_a_plan_of_the_day(self):
        room = made_up(63, 15)
        first = best_dispatched(room)
        found = reinserted_apart(room, first, 1, time.monotonic() + 2.5)
        self.assertEqual(broken_rules(room.day, found), [])
        self.assertFalse(cost(room.day, ends_of(first)) < cost(room.day, ends_of(found)))

    def test_one_that_fails_is_not_passed_over(self):
        room = made_up(63, 15)
        with self.assertRaisesRegex(ChildProcessError, "has no attribute 'step'"):
            reinserted_apart(room, ["no task"], 1, time.monotonic() + 2.5)

    def test_a_moment_that_has_passed_meanwhile_ends_the_search(self):
        self.assertEqual(list(shares(-1e-6)), [])


class PartModelTests(CoreCase):
    def test_a_part_put_anew_leaves_the_others_and_is_no_worse(self):
        # Source: the rules of the day; the cost before.
        for seed in range(70, 74):
            room = made_up(seed, 16)
            tasks = best_dispatched(room)
            free = set(random.Random(seed).sample([s.code for s in room.day.screens], 4))
            found, _ = PartModel(room, tasks, free).solve(20)
            self.assertLessEqual({t.screen for t in found}, free)
            whole = [*(t for t in tasks if t.screen not in free), *found]
            with self.subTest(seed):
                self.assertEqual(broken_rules(room.day, whole), [])
                self.assertFalse(cost(room.day, ends_of(tasks)) < cost(room.day, ends_of(whole)))

    def test_the_solver_is_told_the_whole_plan_as_it_stands(self):
        # Source: the rules of the day: with each variable as it is told, the plan comes out again.
        for seed, window in ((70, None), (73, 60), (76, None), (78, 25)):
            room = made_up(seed, 24)
            tasks = best_dispatched(room)
            standing = Standing({code: tuple(own) for code, own in by_screen(tasks).items()}, change_min=30)
            part = PartModel(room, tasks, {s.code for s in room.day.screens}, window, standing)
            self.assertEqual(told_nothing(part.model), [])
            solver = cp_model.CpSolver()
            solver.parameters.fix_variables_to_their_hinted_value = True
            solver.parameters.num_workers = 1
            with self.subTest(seed):
                self.assertEqual(solver.solve(part.model), cp_model.OPTIMAL)
                self.assertEqual(ends_of(part._tasks(solver)), ends_of(tasks))

    def test_two_that_are_under_way_are_put_anew_with_another(self):
        # Source: by hand: each goes on at once and cannot move; c, due first, has the one free person.
        going = [screen(code, replace(work(10), start_within=0)) for code in "ab"]
        people = dict.fromkeys("ABC", ("work",))
        room = Room(day(*going, screen("c", work(10), due=10), people=people))
        tasks = [Task("a", 0, 0, 10, "A"), Task("b", 0, 0, 10, "B"), Task("c", 0, 10, 20, "A")]
        found, proven = PartModel(room, tasks, {"a", "b", "c"}).solve(20)
        self.assertEqual((ends_of(found), proven), ({"a": 10, "b": 10, "c": 10}, True))

    def test_what_was_due_years_ago_is_planned_by_weight(self):
        # Source: by hand: nobody can be in time, so that the heavier goes first.
        late = [screen(code, work(10), due=-5_000_000, weight=weight) for code, weight in (("a", 1.5), ("b", 99_999.5))]
        room = Room(day(*late))
        found, _ = PartModel(room, [Task("a", 0, 0, 10, "A"), Task("b", 0, 10, 20, "A")], {"a", "b"}).solve(20)
        self.assertEqual(ends_of(found), {"b": 10, "a": 20})

    def test_what_the_solver_cannot_count_with_is_left_to_the_rules(self):
        # Source: 64 bits; a week of forty screens at the heaviest weight in thousandths costs more.
        heavy = [screen(str(k), work(10), due=0, weight=99_999.5) for k in range(40)]
        room = Room(day(*heavy, end=7 * 1440))
        self.assertIsNone(PartModel(room, [], {str(k) for k in range(40)}).solve(20))
        self.assertEqual(broken_rules(room.day, plan_day(room.day, 0.5).tasks), [])

    def test_with_a_window_no_step_goes_farther(self):
        room = made_up(75, 14)
        tasks = best_dispatched(room)
        before = {(t.screen, t.step): t.start for t in tasks}
        free = {s.code for s in room.day.screens}
        found, _ = PartModel(room, tasks, free, window=10).solve(20)
        moved = [abs(t.start - before[t.screen, t.step]) for t in found if (t.screen, t.step) in before]
        self.assertTrue(moved)
        self.assertLessEqual(max(moved), 10)

    def test_everything_free_comes_to_the_known_best(self):
        # Source: Smith (1956): shortest first; 2 + 5 + 10.
        room = Room(day(screen("a", work(5)), screen("b", work(3)), screen("c", work(2))))
        tasks = [Task("a", 0, 0, 5, "A"), Task("b", 0, 5, 8, "A"), Task("c", 0, 8, 10, "A")]
        found, proven = PartModel(room, tasks, {"a", "b", "c"}).solve(60)
        self.assertEqual((cost(room.day, ends_of(found)).sum_of_ends, proven), (2 + 5 + 10, True))

    def test_a_step_joins_a_load_that_stands(self):
        # Source: by hand: the lamp is taken from 4 to 11; together with what is lit there nothing more is needed.
        lit = [screen(code, work(7, workstation="lamp", load="L")) for code in "ab"]
        room = Room(day(*lit, end=14, lamp=1))
        found, _ = PartModel(room, [Task("a", 0, 4, 11, "A")], {"b"}).solve(20)
        self.assertEqual(found, [Task("b", 0, 4, 11, "A")])

    def test_a_weight_below_a_thousandth_is_never_called_proven(self):
        light = day(screen("a", work(5), due=0, weight=0.0004), screen("b", work(5), due=0, weight=0.0002))
        self.assertFalse(light.weights_exact)
        self.assertTrue(replace(light, screens=tuple(replace(s, weight=0.25) for s in light.screens)).weights_exact)
        room = Room(light)
        found = search(room, best_dispatched(room), lambda c: False, time.monotonic() + 0.6, 0)
        self.assertFalse(found.optimal)


class BoundsTests(CoreCase):
    def test_no_plan_of_a_made_up_day_is_below_its_bounds(self):
        # Source: a bound is one of every plan: four rules' plans and a searched one.
        told = 0
        for seed in range(80, 86):
            room = made_up(seed, 14 + seed % 9)
            bounds = Bounds(room)
            late = bounds.late()
            searched = search(room, best_dispatched(room), lambda c: False, time.monotonic() + 1.5, seed)
            for found in (*(cost(room.day, ends_of(dispatched(room, rule))) for rule in RULES), searched.cost):
                self.assertLessEqual(late, found.late)
                self.assertLessEqual(bounds.sum_of_ends(found.late), found.sum_of_ends)
            told += late > 0
        self.assertGreater(told, 0)

    def test_fewer_moments_are_a_bound_too_and_no_higher(self):
        room = made_up(80, 18)
        self.assertLessEqual(Bounds(room, 6).sum_of_ends(1e9), Bounds(room, 48).sum_of_ends(1e9) + 1)

    def test_one_person_s_hours_alone_keep_screens_out(self):
        # Source: by hand: 3 × 30 min in 60: one is left out, 1,440 + 60 - 60 min late at the least.
        late = [screen(code, work(30), due=60) for code in "abc"]
        self.assertGreater(Bounds(Room(day(*late, end=60))).late(), 1000)


class UnderWayTests(CoreCase):
    def test_all_that_can_go_on_is_kept_whole(self):
        begun = [screen(code, dry(5, start_within=0, workstation="cabinet"), work(5)) for code in "ab"]
        of_day = day(*begun, cabinet=2)
        self.assertEqual(with_held_places(of_day), (of_day, ()))

    def test_of_two_that_cannot_both_be_ended_the_heavier_goes_on(self):
        # Source: by hand: both dry to 5, both may wait 0 min for one person's 10 min.
        begun = [
            screen(code, dry(5, start_within=0), work(10, start_within=0), weight=weight)
            for code, weight in (("a", 1), ("b", 3))
        ]
        searched, held = with_held_places(day(*begun))
        self.assertEqual(held, ("a",))
        self.assertEqual([len(s.steps) for s in searched.screens], [1, 2])
