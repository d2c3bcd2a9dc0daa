"""Minutes kept as bits, against lists of minutes one by one."""

from dataclasses import replace
from itertools import pairwise

from hypothesis import given, settings
from hypothesis import strategies as st

from frimble.core.planning.day import Shift, Step
from frimble.core.planning.search.occupied import Occupied, Room, Spot, minutes, runs, starts
from frimble.core.planning.tests.days import day, dry, screen, work
from frimble.core.testing.case import CoreCase

_END = 60
_sets = st.integers(min_value=0, max_value=(1 << _END) - 1)


def as_list(these: int) -> list[int]:
    return [minute for minute in range(these.bit_length()) if these >> minute & 1]


class MinutesTests(CoreCase):
    """Source: the same in plain lists of minutes."""

    @given(_sets)
    def test_runs_are_the_minutes_again(self, these):
        found = runs(these)
        self.assertEqual([m for first, last in found for m in range(first, last + 1)], as_list(these))
        for (_, last), (first, _) in pairwise(found):
            self.assertGreater(first, last + 1)

    @given(_sets, st.integers(min_value=1, max_value=20))
    def test_starts_have_so_many_free_minutes_before_them(self, these, length):
        free = set(as_list(these))
        expected = [m for m in range(_END) if all(m + k in free for k in range(length))]
        self.assertEqual(as_list(starts(these, length)), expected)

    @given(st.integers(min_value=-5, max_value=40), st.integers(min_value=-5, max_value=60))
    def test_minutes_from_a_start_to_an_end(self, start, end):
        if start >= 0:
            self.assertEqual(as_list(minutes(start, end)), list(range(start, end)))


class FirstTests(CoreCase):
    """The first minute for a step against one looked for minute by minute."""

    @settings(deadline=None)
    @given(
        st.lists(st.tuples(st.integers(0, 50), st.integers(1, 9), st.booleans()), max_size=12),
        st.integers(1, 12),
        st.integers(0, 40),
        st.integers(1, 3),
    )
    def test_a_workstation_with_several_places_and_one_person(self, tasks, length, start, places):
        # Source: the same by counting, minute by minute.
        step = Step("work", length, "bench")
        room = Room(day(screen("a", step), end=_END, bench=places))
        taken = Occupied(room)
        held, busy = [0] * 200, [False] * 200
        for begin, lasts, with_hands in tasks:
            span = range(begin, begin + lasts)
            if any(held[m] >= places for m in span) or (with_hands and any(busy[m] for m in span)):
                continue
            other = Step("work", lasts, "bench", hands=with_hands)
            taken.take(
                Room(day(screen("b", other), end=_END, bench=places)).work[0][0], Spot(begin, 0 if with_hands else -1)
            )
            for m in span:
                held[m] += 1
                busy[m] = busy[m] or with_hands

        def fits(minute):
            span = range(minute, minute + length)
            return minute + length <= _END and all(held[m] < places and not busy[m] for m in span)

        expected = next((m for m in range(start, _END) if fits(m)), None)
        found = taken.first(room.work[0][0], start)
        self.assertEqual(None if found is None else found.start, expected)

    def test_two_shifts_with_a_break_are_never_worked_through(self):
        # Source: by hand: 4 minutes fit before the break at 10 from minute 6 on the latest, and again from 20.
        shifts = (Shift("A", 0, 10, frozenset({"work"})), Shift("A", 20, 30, frozenset({"work"})))
        taken = Occupied(Room(replace(day(screen("a", work(4)), end=_END), shifts=shifts)))
        work_of_a = taken.room.work[0][0]
        self.assertEqual(taken.first(work_of_a, 6), Spot(6, 0))
        self.assertEqual(taken.first(work_of_a, 7), Spot(20, 0))
        self.assertIsNone(taken.first(work_of_a, 27))

    def test_whoever_is_free_first_does_it(self):
        room = Room(day(screen("a", work(5)), people={"A": ("work",), "B": ("work",)}))
        taken = Occupied(room)
        first = taken.first(room.work[0][0], 0)
        taken.take(room.work[0][0], first)
        second = taken.first(room.work[0][0], 0)
        self.assertEqual((first.start, second.start, first.person == second.person), (0, 0, False))
        taken.take(room.work[0][0], second)
        self.assertEqual(taken.first(room.work[0][0], 0).start, 5)

    def test_a_copy_goes_its_own_way(self):
        room = Room(day(screen("a", work(5, workstation="lamp", load="L")), lamp=1))
        taken = Occupied(room)
        copy = taken.copy()
        copy.take(room.work[0][0], Spot(0, 0))
        self.assertEqual(taken.first(room.work[0][0], 0), Spot(0, 0))
        self.assertEqual((dict(taken.loads), dict(copy.loads)), ({}, {"L": {0: (0, 1)}}))
        self.assertEqual(copy.first(room.work[0][0], 1).start, 5)


class PutTests(CoreCase):
    def put(self, *steps, **more):
        room = Room(day(screen("a", *steps, **more), end=_END, cabinet=1))
        return Occupied(room).put(0)

    def test_a_whole_screen_goes_where_it_fits_first(self):
        self.assertEqual(
            [s.start for s in self.put(work(5), dry(10, workstation="cabinet"), work(2), ready=3)], [3, 8, 18]
        )

    def test_what_may_not_wait_long_pulls_the_step_before_it_along(self):
        # Source: by hand: the cabinet is free from 30 on; coated at most 5 min before, that is from minute 21 on, for 4 min.
        steps = work(4), dry(10, workstation="cabinet", start_within=5)
        room = Room(day(screen("a", *steps), end=_END, cabinet=1))
        taken = Occupied(room)
        taken.take(Room(day(screen("b", dry(30, workstation="cabinet")), end=_END, cabinet=1)).work[0][0], Spot(0, -1))
        self.assertEqual([s.start for s in taken.put(0)], [21, 30])

    def test_without_room_nothing_is_taken(self):
        room = Room(day(screen("a", work(5), dry(70)), end=_END))
        taken = Occupied(room)
        self.assertIsNone(taken.put(0))
        self.assertEqual(taken.people, [room.whole])
