"""The rules of a day, each broken once."""

from frimble.core.planning.dayplan import Task
from frimble.core.planning.rules import broken_rules
from frimble.core.planning.tests.days import day, dry, screen, work
from frimble.core.testing.case import CoreCase


class RuleTests(CoreCase):
    """Each case's only fault is the one it names."""

    def broken(self, of_day, *tasks):
        return broken_rules(of_day, [Task(*task) for task in tasks])

    def test_a_plan_that_can_be_carried_out_breaks_none(self):
        # Source: docs of the command, rule by rule.
        room = day(screen("a", work(5), dry(20, workstation="cabinet")), screen("b", work(5)), cabinet=1)
        self.assertEqual(self.broken(room, ("a", 0, 0, 5, "A"), ("a", 1, 5, 25), ("b", 0, 5, 10, "A")), [])

    def test_every_rule_is_looked_at(self):
        # Source: docs of the command, rule by rule.
        one = day(screen("a", work(5), dry(20, start_within=10), ready=5), end=60)
        two = day(screen("a", work(5)), screen("b", work(5)))
        lamp = day(screen("a", dry(5, workstation="lamp")), screen("b", dry(5, workstation="lamp")), lamp=1)
        load = [screen(code, work(5, load="L")) for code in "ab"]
        running = day(screen("a", dry(5, start_within=0)))
        for words, of_day, tasks in (
            ("before it is ready", one, [("a", 0, 0, 5, "A"), ("a", 1, 5, 25)]),
            ("not planned whole", one, [("a", 0, 5, 10, "A")]),
            ("past the day's end", one, [("a", 0, 40, 45, "A"), ("a", 1, 45, 65)]),
            ("before step 0 has ended", one, [("a", 0, 5, 10, "A"), ("a", 1, 8, 28)]),
            ("too long after", one, [("a", 0, 5, 10, "A"), ("a", 1, 21, 41)]),
            ("does not take its minutes", one, [("a", 0, 5, 9, "A"), ("a", 1, 9, 29)]),
            ("has a person without need", one, [("a", 0, 5, 10, "A"), ("a", 1, 10, 30, "A")]),
            ("not there or cannot", one, [("a", 0, 5, 10, "B"), ("a", 1, 10, 30)]),
            ("does two steps", two, [("a", 0, 0, 5, "A"), ("b", 0, 4, 9, "A")]),
            ("lamp holds 2", lamp, [("a", 0, 0, 5), ("b", 0, 4, 9)]),
            ("is not of this day", two, [("z", 0, 0, 5, "A")]),
            ("or none", one, [("a", 0, 5, 10, None), ("a", 1, 10, 30)]),
            ("starts too late", running, [("a", 0, 1, 6)]),
            ("not planned whole", running, []),
            ("not planned whole", two, [("a", 0, 0, 5, "A"), ("a", 1, 5, 10, "A")]),
            (
                "have two people",
                day(*load, people={"A": ("work",), "B": ("work",)}),
                [("a", 0, 0, 5, "A"), ("b", 0, 0, 5, "B")],
            ),
        ):
            with self.subTest(words):
                broken = self.broken(of_day, *tasks)
                self.assertEqual(len(broken), 1, broken)
                self.assertIn(words, broken[0])

    def test_steps_of_a_load_that_start_together_share_a_person_and_a_place(self):
        # Source: docs of the command: one load.
        screens = [screen(code, work(5, load="L", workstation="lamp")) for code in "abc"]
        room = day(*screens, lamp=1)
        self.assertEqual(self.broken(room, *((c, 0, 3, 8, "A") for c in "abc")), [])
        apart = self.broken(room, ("a", 0, 3, 8, "A"), ("b", 0, 3, 8, "A"), ("c", 0, 4, 9, "A"))
        self.assertEqual(len(apart), 2)
