"""Pictures of the light room: two steps at one scale, windows on one scale, a photo with its steps, a field of light."""

import math
from types import SimpleNamespace
from unittest import TestCase

from frimble.core.exposure.light import source as light_source
from frimble.core.settings import HouseSettings
from frimble.ui.pictures.exposure.light_field import light_field
from frimble.ui.pictures.exposure.step_pair import step_pair
from frimble.ui.pictures.exposure.step_photo import step_curve, step_photo
from frimble.ui.pictures.exposure.window_bar import window_bar
from frimble.ui.tests.test_pictures import by_class, parse


def size(kind, drawn, measured, y, unit="µm"):
    return SimpleNamespace(kind=kind, drawn=drawn, measured=measured, unit=unit, y_mm=y)


def step(index, time, verdict, share=1.0, open_share=(0.5,) * 7):
    return SimpleNamespace(index=index, time_s=time, verdict=verdict, share=share, open_share=open_share)


class PairTests(TestCase):
    def drawn(self, names=("Step 5", "Step 2")):
        sizes = [
            (size("openings", 127, 114.2, 60), size("openings", 127, 17, 60)),
            (size("dots", 10, None, 120, "%"), size("dots", 10, 4, 120, "%")),
        ]
        return parse(step_pair("/a.png", "/b.png", names, (27.0, 35.0), 190.0, sizes))

    def test_both_strips_are_drawn_at_one_scale(self):
        images = [e for e in self.drawn().iter() if e.tag.endswith("image")]
        self.assertEqual([e.get("href") for e in images], ["/a.png", "/b.png"])
        # Films of nine and of seven steps have strips of other widths, each drawn as wide as it is.
        self.assertEqual([(e.get("width"), e.get("height")) for e in images], [("27", "190"), ("35", "190")])

    def test_what_was_measured_stands_at_the_height_of_what_was_drawn(self):
        result = {"".join(e.itertext()): float(e.get("y")) for e in self.drawn().iter() if e.tag.endswith("text")}
        self.assertAlmostEqual(result["127 µm open"], result["114 µm"])
        self.assertAlmostEqual(result["17 µm"], result["114 µm"])
        self.assertAlmostEqual(result["10 % dots"] - result["127 µm open"], 60)

    def test_it_is_told_in_words_and_what_is_missing_is_no_nought(self):
        words = self.drawn().get("aria-label")
        self.assertIn("127 µm open measures 114 µm and 17 µm", words)
        self.assertIn("10 % dots measures – and 4 %", words)

    def test_a_name_cannot_break_out(self):
        self.assertNotIn("<script>", step_pair("/a", "/b", ("<script>", "x"), (27.0, 27.0), 190.0, []))


class OneScaleTests(TestCase):
    def start(self, cured):
        """Where the working part of a bar on a scale of 5 to 80 s begins."""
        bar = parse(window_bar(None, (cured,) * 3, (40,) * 3, (5, 80)))
        return float(by_class(bar, "window-working")[0].get("x"))

    def test_two_windows_on_one_scale_lie_apart_by_the_logarithm_of_their_times(self):
        # By hand: from 10 to 20 s is as far as from 5 to 10 s, a quarter of the way from 5 to 80 s.
        width = 560 - 16
        self.assertAlmostEqual(self.start(20) - self.start(10), width / 4, places=1)
        self.assertAlmostEqual(self.start(10) - 8, width / 4, places=1)


class PhotoTests(TestCase):
    strips = [SimpleNamespace(x_mm=16 + 27 * k, width_mm=27) for k in range(3)]
    steps = [step(1, 40, "over"), step(2, 20, "good"), step(3, 10, "short", 0.7)]

    def test_each_step_is_outlined_by_what_it_is(self):
        root = parse(step_photo("/p.png", 277, 190, self.strips, self.steps, 20 * math.sqrt(2)))
        for name in ("photo-over", "photo-good", "photo-short"):
            self.assertEqual(len(by_class(root, name)), 1)
        # By hand: √2 times 20 s lies half-way between the middles of the steps of 20 and 40 s.
        needle = float(by_class(root, "strip-needle")[0].get("d")[1:].split()[0])
        self.assertAlmostEqual(needle, 16 + 27, places=1)

    def test_a_time_beyond_the_test_has_no_needle(self):
        self.assertEqual(
            by_class(parse(step_photo("/p.png", 277, 190, self.strips, self.steps, 90)), "strip-needle"), []
        )

    def test_a_step_with_glare_leaves_a_gap_and_not_a_nought(self):
        steps = [*self.steps[:2], step(3, 10, "short", None, ())]
        root = parse(step_curve(steps, (85, 127, 169, 212, 254, 339, 508), (15, 13, 17), None))
        self.assertEqual(len(by_class(root, "curve-stencil-dot")), 2)


class FieldTests(TestCase):
    def test_what_is_too_dim_is_said_and_not_only_shaded(self):
        field = light_source.field_of([[8, 9, 8], [9, 10, 9], [8, 9, 8]], HouseSettings())
        root = parse(light_field(field, 0.15))
        words = ["".join(e.itertext()) for e in root.iter() if e.tag.endswith("text")]
        self.assertEqual(words.count("too dim"), 4)
        self.assertEqual(words.count("80 %"), 4)
        self.assertEqual(len(by_class(root, "field-dim")), 4)
