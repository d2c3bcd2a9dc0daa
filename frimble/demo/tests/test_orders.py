"""The made-up shop's orders: as many screens as colours, at press together, and again months later."""

import random
from collections import Counter, defaultdict
from datetime import UTC, datetime, timedelta
from itertools import pairwise

from django.test import SimpleTestCase

from frimble.demo import orders

_BEGAN = datetime(2026, 1, 5, 9, tzinfo=UTC)


def visits(number=500, days=350, seed=4):
    rng = random.Random(seed)
    return [
        orders.Visit(
            k,
            f"Q-{rng.randrange(60):03d}",
            _BEGAN + timedelta(days=rng.uniform(0, days)),
            rng.choice((32, 43, 77, 120)),
        )
        for k in range(number)
    ]


class OrderTests(SimpleTestCase):
    def setUp(self):
        self.visits = visits()
        self.orders = list(orders.past_orders(self.visits, 1))

    def test_every_visit_belongs_to_one_order(self):
        keys = Counter(v.key for order in self.orders for v in order.visits)
        self.assertEqual(keys, Counter(range(len(self.visits))))

    def test_an_order_has_as_many_screens_as_colours_of_meshes_that_serve_it(self):
        for order in self.orders:
            with self.subTest(order.design.name):
                self.assertEqual(len({v.screen for v in order.visits}), order.design.colours)
                for visit in order.visits:
                    self.assertLessEqual(order.design.coarsest_per_cm, visit.count_per_cm)
                    self.assertLessEqual(visit.count_per_cm, order.design.finest_per_cm)

    def test_its_screens_go_to_press_within_days_and_it_comes_again_months_later(self):
        dates = defaultdict(list)
        for order in self.orders:
            first, last = order.visits[0].at, order.visits[-1].at
            self.assertLessEqual(last - first, timedelta(days=3))
            dates[order.design.name].append((first, last))
        self.assertGreater(max(map(len, dates.values())), 1)
        for name, times in dates.items():
            for (_, last), (first, _) in pairwise(times):
                with self.subTest(name):
                    self.assertGreaterEqual(first - last, timedelta(days=60))

    def test_what_is_open_now_was_last_printed_months_ago(self):
        end = max(v.at for v in self.visits)
        for order in self.orders:
            if order.design.name == "Lugger Week pennants":
                self.assertGreaterEqual(end - order.visits[-1].at, timedelta(days=70))

    def test_most_orders_are_for_more_than_one_colour(self):
        screens = sum(len(o.visits) for o in self.orders if o.design.colours > 1)
        self.assertGreater(screens / len(self.visits), 0.5)
