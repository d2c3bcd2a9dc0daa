"""A day planned again: what stands, what moves, and that a move is worth what it costs."""

from dataclasses import replace

from bench.other.days import day as made_up_day
from frimble.core.planning.day import Day
from frimble.core.planning.dayplan import cost, ends_of
from frimble.core.planning.planning import first_plan, plan_day
from frimble.core.planning.reading import read_day
from frimble.core.planning.rules import broken_rules
from frimble.core.planning.standing import FREE, PlannedBefore, Standing, standing_of, under_way
from frimble.core.planning.tests.days import ENOUGH_S, day, dry, screen, work
from frimble.core.testing.case import CoreCase


def before(**starts):
    """One step of ten minutes by A for each screen, planned to start then."""
    return {code: [PlannedBefore("work", start, start + 10, "A")] for code, start in starts.items()}


def planned(day, earlier, seconds=ENOUGH_S, frozen=(), change_min=30.0):
    going = under_way(day, earlier)
    standing = standing_of(going, earlier, frozen, change_min)
    return going, plan_day(going, seconds, standing=standing), standing


def starts(plan):
    return {task.screen: task.start for task in plan.tasks}


class ByHandTests(CoreCase):
    """Three screens of ten minutes each for one person."""

    def setUp(self):
        self.day = day(*(screen(code, work(10), due=60) for code in "abc"))

    def test_what_can_stay_stays_though_it_could_begin_earlier(self):
        # Source: by hand: nothing is late, so that no move is worth its price.
        _, plan, _ = planned(self.day, before(a=5, b=20, c=40))
        self.assertEqual((starts(plan), plan.moved), ({"a": 5, "b": 20, "c": 40}, ()))

    def test_what_takes_longer_moves_as_few_as_may_be(self):
        # Source: by hand: a is worked on to 25; c goes 5 min later, which nobody notices; b finds room after it.
        earlier = before(a=-5, b=10, c=20) | {"a": [PlannedBefore("work", -5, 25, "A")]}
        going, plan, _ = planned(self.day, earlier)
        self.assertEqual(going.screens[0].steps[0].minutes, 25)
        self.assertEqual((starts(plan), plan.moved), ({"a": 0, "c": 25, "b": 35}, ("b",)))

    def test_a_move_is_made_where_it_saves_more_than_it_costs(self):
        # Source: by hand: d is due at 10; 20 min late behind a and b, 0 with one of them moved at 15 weighted minutes.
        urgent = screen("d", work(10), due=10, weight=2)
        crowded = replace(self.day, screens=(*self.day.screens, urgent))
        _, plan, _ = planned(crowded, before(a=0, b=10, c=40), change_min=15)
        self.assertEqual((plan.cost.late, plan.moved, starts(plan)["d"]), (0, ("a",), 0))
        _, plan, _ = planned(crowded, before(a=0, b=10, c=40), change_min=100)
        self.assertEqual((plan.cost.late, plan.moved), (40, ()))

    def test_a_frozen_screen_stays_whatever_it_costs(self):
        # Source: by hand: as above, but a may not move, so that d comes when a has ended and b makes room.
        urgent = screen("d", work(10), due=10, weight=2)
        crowded = replace(self.day, screens=(*self.day.screens, urgent))
        _, plan, _ = planned(crowded, before(a=0, b=10, c=40), change_min=15, frozen="a")
        self.assertEqual((starts(plan)["a"], starts(plan)["d"], plan.moved), (0, 10, ("b",)))

    def test_a_frozen_screen_that_cannot_stay_is_told_as_moved(self):
        gone = replace(self.day, shifts=tuple(replace(s, start=30) for s in self.day.shifts))
        _, plan, _ = planned(gone, before(a=0, b=40, c=50), frozen="a")
        self.assertEqual((plan.moved, starts(plan)["a"]), (("a",), 30))

    def test_somebody_else_is_a_change(self):
        two = day(screen("a", work(10)), people={"A": ("work",), "B": ("work",)})
        standing = standing_of(two, before(a=0), (), 1)
        other = replace(standing.tasks["a"][0], person="B")
        self.assertEqual((standing.moved([other]), standing.moved(standing.tasks["a"])), (["a"], []))

    def test_a_screen_whose_way_is_another_now_has_no_earlier_plan(self):
        # Source: a coat that is laid again adds steps.
        longer = day(screen("a", work(10), dry(20), work(10)))
        self.assertEqual(standing_of(longer, before(a=0), (), 1).tasks, {})

    def test_what_dries_stands_where_it_is_whatever_was_planned(self):
        drying = day(screen("a", dry(7, start_within=0), work(10)))
        earlier = {"a": [PlannedBefore("dry", -40, 3, None), PlannedBefore("work", 9, 19, "A")]}
        _, plan, _ = planned(drying, earlier)
        self.assertEqual(([t.start for t in plan.tasks], plan.moved), ([0, 9], ()))

    def test_what_dries_too_long_to_be_ended_keeps_its_place_and_the_others_stand(self):
        # Source: by hand: a dries to 45 and the day ends at 50; it holds its place, and b stays at 20.
        late = screen("a", dry(45, start_within=0, workstation="cabinet"), work(10))
        closing = day(late, screen("b", work(10)), end=50, cabinet=1)
        earlier = {"a": [PlannedBefore("dry", -40, 30, None), PlannedBefore("work", 30, 40, "A")]} | before(b=20)
        for seconds in (0, 0.4):
            _, plan, _ = planned(closing, earlier, seconds)
            self.assertEqual((starts(plan), plan.left_out, plan.moved), ({"b": 20}, ("a",), ("a",)))


def _hour_later(room_day: Day, plan) -> tuple[Day, dict]:
    """The day as it stands an hour after its start, one dry taking half as long again; and the plan as it was."""
    steps = {s.code: s.steps for s in room_day.screens}
    earlier = {
        code: [
            PlannedBefore(own[t.step].kind, t.start - 60, t.end - 60, t.person) for t in plan.tasks if t.screen == code
        ]
        for code, own in steps.items()
    }
    screens = []
    for screen_ in room_day.screens:
        done = sum(p.start < 0 for p in earlier[screen_.code])
        left = screen_.steps[done:]
        if not left:
            continue
        slower = tuple(replace(s, minutes=s.minutes * 3 // 2) if not s.hands else s for s in left)
        due = None if screen_.due is None else screen_.due - 60
        slower = (replace(slower[0], start_within=None), *slower[1:])
        screens.append(replace(screen_, steps=slower, due=due, ready=max(0, screen_.ready - 60)))
    shifts = tuple(replace(s, start=max(0, s.start - 60), end=s.end - 60) for s in room_day.shifts if s.end > 60)
    return replace(room_day, end=room_day.end - 60, shifts=shifts, screens=tuple(screens)), earlier


class MadeUpDayTests(CoreCase):
    def test_no_rule_is_broken_and_the_plan_at_once_is_no_cheaper(self):
        # Source: the rules of the day; the search begins with the earlier plan and the rest put around it.
        for seed in (300, 301):
            room_day = read_day(made_up_day(seed, 16))
            now, earlier = _hour_later(room_day, plan_day(room_day, 1))
            standing = standing_of(now, earlier, (), 20)
            again, at_once = plan_day(now, 1.5, standing=standing), first_plan(now, standing)
            with self.subTest(seed):
                self.assertEqual(broken_rules(now, list(again.tasks)), [])
                self.assertLessEqual(_price(now, again, standing), _price(now, at_once, standing))
                self.assertLessEqual(again.bound, again.cost.late)

    def test_without_an_earlier_plan_nothing_has_moved(self):
        self.assertEqual(plan_day(read_day(made_up_day(303, 11)), 0, standing=FREE).moved, ())


def _price(day: Day, plan, standing: Standing) -> float:
    return cost(day, ends_of(plan.tasks)).late + standing.price(plan.tasks)
