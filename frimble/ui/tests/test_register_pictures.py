"""The register's pictures: life line, life curve, tension plate, marks on a mesh, how a film lies."""

import re
import xml.etree.ElementTree as Tree
from datetime import UTC, datetime, timedelta
from types import SimpleNamespace

from django.test import SimpleTestCase

from frimble.core.settings import HouseSettings
from frimble.core.statistics import survival
from frimble.core.tension import loss as tension_loss
from frimble.core.tension.loss import TensionObservation
from frimble.ui import labels
from frimble.ui.pictures.film.layers import film_layers
from frimble.ui.pictures.mesh.blemish_map import blemish_map
from frimble.ui.pictures.mesh.life_curve import life_curve
from frimble.ui.pictures.mesh.life_line import life_line
from frimble.ui.pictures.mesh.tension_plate import tension_plate

NOW = datetime(2026, 6, 1, tzinfo=UTC)
SVG = "{http://www.w3.org/2000/svg}"


class PictureCase(SimpleTestCase):
    def drawn(self, svg, name="", class_=""):
        """Elements of a picture by name and class; it must be well-formed and say what it shows."""
        root = Tree.fromstring(svg)  # noqa: S314 - our own picture
        self.assertTrue(root.find(f"{SVG}title").text)
        result = root.iter(f"{SVG}{name}") if name else root.iter()
        return [e for e in result if not class_ or class_ in e.get("class", "").split()]


class LifeLineTests(PictureCase):
    def life(self, *measured, sudden=None):
        history = [TensionObservation(d, 0, v) for d, v in measured]
        belief = tension_loss.shop_belief([], HouseSettings())
        forecast = tension_loss.forecast(history, belief, HouseSettings(), 0.02) if history else None
        return SimpleNamespace(since=NOW - timedelta(days=100), history=history, forecast=forecast, sudden=sudden or {})

    def test_cycles_marks_tension_and_forecast_are_drawn(self):
        day = lambda n: NOW - timedelta(days=100 - n)  # noqa: E731
        cycles = [(day(10), day(18)), (day(40), day(49)), (day(98), None)]
        events = [("coat", day(11)), ("reclaim", day(18)), ("coat", day(41)), ("tension", day(50))]
        svg = life_line(self.life((1, 26), (50, 24), (90, 23.5)), cycles, events, NOW, 20)
        self.assertEqual(len(self.drawn(svg, class_="life-closed")), 2)
        self.assertEqual(len(self.drawn(svg, class_="life-open")), 1)
        self.assertEqual(len(self.drawn(svg, class_="life-mark")), 3)
        self.assertEqual(len(self.drawn(svg, class_="life-point")), 3)
        self.assertEqual(len(self.drawn(svg, class_="life-band")), 1)
        # A cycle begins where its day is: a tenth of the 100 days lived and 120 predicted.
        first = self.drawn(svg, class_="life-closed")[0]
        self.assertAlmostEqual(float(first.get("x")), 46 + 700 * 10 / 220, delta=1)

    def test_a_higher_tension_stands_higher_and_a_sudden_one_is_ringed(self):
        svg = life_line(self.life((1, 26), (50, 25), (90, 14), sudden={2: "Sudden drop"}), [], [], NOW, 20)
        points = self.drawn(svg, "circle")
        heights = [float(p.get("cy")) for p in points]
        self.assertEqual(heights, sorted(heights))
        self.assertIn("life-flag", points[2].get("class"))

    def test_a_mesh_never_measured_says_so(self):
        svg = life_line(self.life(), [], [], NOW, 20)
        self.assertIn("No tension measured yet", svg)
        self.assertEqual(self.drawn(svg, class_="life-band"), [])


class LifeCurveTests(PictureCase):
    def test_the_steps_fall_from_all_to_what_lives(self):
        svg = life_curve(survival.kaplan_meier([10, 20, 30, 40], [True, True, False, True]))
        (line,) = self.drawn(svg, class_="life-tension")
        heights = [float(y) for _, y in re.findall(r"([\d.]+) ([\d.]+)", line.get("d"))]
        self.assertEqual(heights, sorted(heights))
        # Source: the curve's own numbers; 1 at the top, 12, and 0 at the foot, 138: 3/4 lies at 43.5.
        self.assertIn(43.5, heights)
        self.assertIn("75 % beyond 10 cycles", svg)

    def test_nobody_has_ended_and_one_at_once(self):
        self.assertEqual(life_curve(survival.kaplan_meier([10, 20], [False, False])), "")
        self.assertTrue(self.drawn(life_curve(survival.kaplan_meier([0, 5], [True, False])), "path"))


class PlateAndMapTests(PictureCase):
    def test_places_are_shaded_by_their_difference(self):
        places = {"centre": (24, 24), "upper left": (20, 20), "lower right": (28, 28)}
        svg = tension_plate(places, 24)
        (slack,), (tight, even) = (
            self.drawn(svg, class_="plate-slack"),
            sorted(self.drawn(svg, class_="plate-tight"), key=lambda e: -float(e.get("fill-opacity"))),
        )
        self.assertEqual(slack.get("fill-opacity"), tight.get("fill-opacity"))
        self.assertEqual(float(even.get("fill-opacity")), 0)
        self.assertLess(float(slack.get("x")), float(tight.get("x")))
        self.assertIn("-4.0", svg)

    def test_marks_lie_where_they_are_to_scale(self):
        frame = SimpleNamespace(outer_width_mm=580, outer_height_mm=790)
        mark = SimpleNamespace(
            kind="ghost",
            x_mm=200,
            y_mm=300,
            width_mm=80,
            height_mm=50,
            get_kind_display=lambda: "ghost image that prints",
        )
        svg = blemish_map(SimpleNamespace(code="Q-014", frame=frame), [mark], 420)
        (box,) = self.drawn(svg, class_="map-ghost")
        self.assertEqual([float(box.get(k)) for k in ("x", "y", "width", "height")], [200, 300, 80, 50])
        self.assertIn("ghost image that prints at 200, 300 mm", svg)
        self.assertIn("no mark", blemish_map(SimpleNamespace(code="Q-014", frame=frame), [], 420))

    def test_the_film_lies_ink_down_and_a_transfer_is_mirrored(self):
        plain, transfer = film_layers(transfer=False), film_layers(transfer=True)
        layers = ("glass", "film", "black", "coat", "mesh")
        top = {c: float(self.drawn(plain, class_=f"layer-{c}")[0].get("y")) for c in layers}
        # Common practice, no source. Lamp, film with its printed side down, emulsion on the print side, mesh.
        self.assertEqual(sorted(top, key=top.get), list(layers))
        self.assertIn("scale(-1 1)", transfer)
        self.assertIn("reads right", plain)


class LabelTests(PictureCase):
    def test_a_label_is_at_true_size_and_its_words_fit(self):
        label = labels.Label("Q-014-LONG-CODE", "120-34 yellow", "91 x 122 cm, roller-tensioned aluminium")
        root = Tree.fromstring(labels.as_svg(label, (70, 37)))  # noqa: S314 - our own picture
        self.assertEqual((root.get("width"), root.get("height")), ("70mm", "37mm"))
        for words in root.iter(f"{SVG}text"):
            room = 70 - float(words.get("x"))
            # From memory: bold capitals and figures of a sans face are some 0.62 of their size wide on average.
            self.assertLessEqual(0.62 * float(words.get("font-size")) * len(words.text), room + 0.01, words.text)

    def test_words_are_escaped(self):
        self.assertNotIn("<b>", labels.as_svg(labels.Label("A", "<b>mesh</b>", "&")))
