"""The bench of day plans runs, and its made-up days are days."""

import io
import json
from contextlib import redirect_stdout
from unittest.mock import patch

from django.test import SimpleTestCase

from bench import day_plans
from bench.other.days import day
from bench.other.shift_days import day as shift_day
from frimble.core.planning.reading import read_day
from frimble.core.planning.search.occupied import Room
from frimble.core.planning.search.running import whole


class MadeUpDayTests(SimpleTestCase):
    def test_every_made_up_day_can_be_read_and_its_running_steps_can_go_on(self):
        for made, seed in ((made, seed) for made in (day, shift_day) for seed in range(200, 225)):
            with self.subTest((made.__module__, seed)):
                read = read_day(json.loads(json.dumps(made(seed))))
                self.assertTrue(10 <= len(read.screens) <= 60)
                begun = [s for s in read.screens if s.running]
                if begun:
                    held = type(read)(read.start, read.end, read.shifts, read.places, tuple(begun))
                    first = [type(s)(s.code, s.steps[:1]) for s in held.screens]
                    self.assertIsNotNone(
                        whole(Room(type(read)(read.start, read.end, read.shifts, read.places, tuple(first))))
                    )

    def test_the_same_seed_is_the_same_day_and_another_is_not(self):
        self.assertEqual(day(7), day(7))
        self.assertNotEqual(day(7), day(8))


class BenchTests(SimpleTestCase):
    def test_it_prints_a_row_a_day_and_what_it_comes_to(self):
        out = io.StringIO()
        given = ["day_plans", "--days", "2", "--seconds", "1", "--screens", "11", "--best"]
        with patch("sys.argv", given), patch.object(day_plans, "_LONGER", 1), redirect_stdout(out):
            day_plans.main()
        lines = out.getvalue().splitlines()
        self.assertEqual(sum("11 screens" in line for line in lines), 2)
        self.assertTrue(all("rules broken 0" in line for line in lines if "11 screens" in line))
        # The best known is the better of both, so that the plan is never under it.
        self.assertIn("against the best known: lateness ", out.getvalue())
        self.assertIn("late proven least on", lines[-1])
