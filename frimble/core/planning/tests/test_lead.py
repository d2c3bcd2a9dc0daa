"""Lead time by stage, and weeks gone through again."""

import statistics
from datetime import UTC, datetime

from frimble.core.planning.lead import by_week, lead_time, replays
from frimble.core.planning.tests.days import day, screen, work
from frimble.core.testing.case import CoreCase


class LeadTimeTests(CoreCase):
    def lives(self):
        kinds = ("degrease", "coat", "expose", "wash", "inspect", "to_press")
        return [
            dict(zip(kinds, (0, 20 + k, 120 + k, 140 + 3 * k, 180 + 3 * k, 600 + 10 * k), strict=True))
            for k in range(9)
        ]

    def test_medians_of_stages_and_the_longest_one(self):
        # Source: Python's statistics.median on the same minutes.
        found = lead_time(self.lives())
        self.assertEqual(found.whole.value, statistics.median(life["to_press"] for life in self.lives()))
        coat = found.stages[0]
        self.assertEqual(coat.usual.value, statistics.median(life["coat"] for life in self.lives()))
        self.assertEqual(found.bottleneck.words, "ready, waiting for press")
        self.assertEqual([s.number for s in found.stages], [9] * 5)

    def test_weeks_begin_on_the_shop_s_monday(self):
        # Source: 4 May 2026 is a Monday (ISO calendar of Python's datetime).
        monday = datetime(2026, 5, 4, tzinfo=UTC).timestamp() / 60
        lives = [
            {"degrease": monday + at - took, "to_press": monday + at} for at, took in ((-30, 600), (10, 60), (20, 80))
        ]
        found = by_week(lives)
        self.assertEqual([(w.monday.isoformat(), w.number) for w in found], [("2026-04-27", 1), ("2026-05-04", 2)])
        self.assertEqual(found[1].usual.value, 70)
        self.assertEqual([w.number for w in by_week(lives, offset_min=60)], [3])

    def test_few_lives_tell_nothing_and_half_ones_count_where_they_go(self):
        self.assertIsNone(lead_time(self.lives()[:4]))
        half = {"degrease": 0, "coat": 50}
        self.assertEqual([s.number for s in lead_time([*self.lives(), half]).stages], [10, 9, 9, 9, 9])


class ReplayTests(CoreCase):
    def test_another_lamp_shortens_the_queue_at_it_and_nothing_else_does(self):
        # Source: by hand: three screens of 30 min at one lamp end after 30, 60, 90; at two after 30, 30, 60.
        lit = [screen(code, work(30, workstation="lamp")) for code in "abc"]
        week = day(*lit, people={"A": ("work",), "B": ("work",)}, lamp=1, sink=1)
        found = {r.words: r.mean_min for r in replays(week)}
        self.assertEqual(
            found, {"as it was": 60, "one more: lamp": 40, "one more: sink": 60, "one more pair of hands": 60}
        )
        self.assertEqual([r.words for r in replays(week)][:2], ["as it was", "one more: lamp"])

    def test_what_does_not_end_in_the_week_is_counted(self):
        week = day(screen("a", work(30)), screen("b", work(30)), end=40)
        self.assertEqual(replays(week)[0].unfinished, 1)
