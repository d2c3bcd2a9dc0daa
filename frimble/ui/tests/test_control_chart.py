"""The control chart's picture: every value where it belongs, what chance does not explain set apart."""

import re
import xml.etree.ElementTree as Tree

from django.test import SimpleTestCase

from frimble.core.statistics import control
from frimble.ui.pictures.coating.control_chart import control_chart

# Source: NIST/SEMATECH e-Handbook 6.3.2.2, individuals chart of flow rates: middle 50.81, limits 45.816 and 55.804.
FLOW = (49.6, 47.6, 49.9, 51.3, 47.8, 51.2, 52.6, 52.4, 53.6, 52.1)


class ControlChartTests(SimpleTestCase):
    def drawn(self, values, shown=lambda v: f"{v:.2f}"):
        chart = control.individuals(values)
        labels = [f"batch {k}" for k in range(1, len(values) + 1)]
        root = Tree.fromstring(control_chart(chart, labels, shown, "flow rates"))  # noqa: S314 - our own picture
        return chart, root

    def of_class(self, root, name):
        return [e for e in root.iter() if name in e.get("class", "").split()]

    def test_middle_and_limits_are_those_of_the_handbook(self):
        _, root = self.drawn(FLOW)
        words = [e.text for e in root.iter() if e.tag.endswith("text")]
        for number in ("50.81", "45.82", "55.80"):
            self.assertIn(number, words)
        self.assertIn("10 flow rates: middle 50.81, limits 45.82 to 55.80, 0 beyond chance", "".join(root.itertext()))

    def test_a_higher_value_stands_higher_and_each_is_named(self):
        _, root = self.drawn(FLOW)
        dots = self.of_class(root, "chart-dot")
        self.assertEqual(len(dots), len(FLOW))
        by_height = sorted(range(len(FLOW)), key=lambda k: -float(dots[k].get("cy")))
        self.assertEqual([FLOW[k] for k in by_height], sorted(FLOW))
        self.assertEqual(dots[0][0].text, "batch 1: 49.60")

    def test_what_chance_does_not_explain_is_set_apart_and_says_why(self):
        chart, root = self.drawn((10, 10.2, 9.9, 10.1, 10, 9.8, 10.1, 13))
        (odd,) = self.of_class(root, "chart-odd")
        self.assertEqual(len(self.of_class(root, "chart-dot")), 7)
        self.assertIn(chart.signals[0].words, odd[0].text)
        self.assertIn("1 beyond chance", "".join(root.itertext()))

    def test_values_that_are_all_alike_are_drawn_on_their_middle(self):
        _, root = self.drawn((5.0,) * 7)
        middle = float(re.search(r"M[\d.]+ ([\d.]+)H", self.of_class(root, "chart-middle")[0].get("d"))[1])
        self.assertEqual({float(d.get("cy")) for d in self.of_class(root, "chart-dot")}, {round(middle, 1)})
