"""The pictures say what they are given: to scale, in words too, and nothing typed can break out of them."""

import math
import re
import xml.etree.ElementTree as ET
from datetime import datetime, timedelta
from types import SimpleNamespace
from unittest import TestCase

from frimble.core.lifecycle import Life, Line, State
from frimble.ui.pictures.exposure.step_strip import step_strip
from frimble.ui.pictures.exposure.window_bar import window_bar
from frimble.ui.pictures.frame_sign import filling, frame_sign
from frimble.ui.pictures.mesh.moire_plot import beat_plot, overlay
from frimble.ui.pictures.rack_elevation import rack_elevation
from frimble.ui.pictures.svg import text

NOW = datetime(2026, 11, 23, 10)
_SVG = "{http://www.w3.org/2000/svg}"


def parse(picture):
    return ET.fromstring(picture)  # noqa: S314 - our own drawing


def by_class(root, name):
    return [e for e in root.iter() if name in (e.get("class") or "").split()]


def screen(state=State.COATED, colour="#7FA99B", count=77, wet_minutes=0, code="Q-014"):
    return SimpleNamespace(
        code=code,
        state=state,
        coat_colour=colour,
        frame=SimpleNamespace(outer_width_mm=580, outer_height_mm=790, material="aluminium"),
        mesh=SimpleNamespace(count_per_cm=count, colour="yellow"),
        life=Life(Line.PHOTO, state, wet_until=NOW + timedelta(minutes=wet_minutes)),
    )


class WindowBarTests(TestCase):
    EDGES = ((9.2, 8, 10.5), (16.2, 14, 18.7))

    def needle(self, time):
        result = by_class(parse(window_bar(time, *self.EDGES)), "window-needle")[0]
        return float(re.match(r"M([\d.]+)", result.get("d"))[1])

    def test_equal_ratios_of_time_are_equal_lengths(self):
        # Source: definition of a logarithmic scale.
        self.assertAlmostEqual(self.needle(10) - self.needle(8), self.needle(12.5) - self.needle(10), delta=0.3)

    def test_solid_only_where_the_test_is_sure(self):
        bar = by_class(parse(window_bar(12.1, *self.EDGES)), "window-working")[0]
        start, width = float(bar.get("x")), float(bar.get("width"))
        self.assertAlmostEqual(start, self.needle(10.5), delta=0.3)
        self.assertAlmostEqual(start + width, self.needle(14), delta=0.3)

    def test_it_is_told_in_words_with_what_is_not_known(self):
        self.assertIn("cured through from 9.2 s; detail closes", window_bar(12.1, *self.EDGES).replace(", ", "; "))
        self.assertIn("upper end not bracketed", window_bar(12.1, self.EDGES[0], None))
        self.assertIn("full cure not bracketed", window_bar(12.1, None, self.EDGES[1]))

    def test_two_bars_on_a_page_do_not_share_pattern_names(self):
        names = re.findall(r'id="([^"]+)"', window_bar(12, *self.EDGES) + window_bar(12, *self.EDGES))
        self.assertEqual(len(names), len(set(names)))


class StepStripTests(TestCase):
    TIMES, EDGES = (40, 20, 10), (0, 80, 160, 240)

    def draw(self, **named):
        return parse(step_strip(self.TIMES, self.EDGES, [(10, 3), (20, 2)], "cover", **named))

    def test_strips_are_to_scale_and_darker_with_more_light(self):
        strips = by_class(self.draw(), "strip-light")
        widths = [float(s.get("width")) for s in strips]
        self.assertAlmostEqual(widths[0], widths[2])
        shades = [float(s.get("fill-opacity")) for s in strips]
        self.assertEqual(shades, sorted(shades, reverse=True))

    def test_moves_are_told_where_the_card_makes_them(self):
        words = "".join(self.draw().itertext())
        for part in ("move 1", "at 10 s", "move 2", "at 20 s", "card edge, mm"):
            self.assertIn(part, words)

    def test_the_chosen_time_stands_between_its_strips_by_ratio(self):
        root = self.draw(grades=("over", "good", "short"), chosen_s=20 * math.sqrt(2))
        x = float(re.match(r"M([\d.]+)", by_class(root, "strip-needle")[0].get("d"))[1])
        boundary = float(by_class(root, "strip-light")[1].get("x"))
        self.assertAlmostEqual(x, boundary, delta=0.2)


class FrameSignTests(TestCase):
    def test_what_is_on_the_mesh_decides_the_filling(self):
        for state, wet, shown in (
            (State.BARE, False, "bare"),
            (State.COATED, True, "wet"),
            (State.COATED, False, "coat"),
            (State.EXPOSED, False, "coat"),
            (State.READY, False, "stencil"),
            (State.AT_PRESS, False, "ink"),
            (State.STRIPPED, False, "stencil"),
            (State.NO_MESH, False, "none"),
        ):
            with self.subTest(state):
                self.assertEqual(filling(state, wet), shown)

    def test_proportion_colour_and_words(self):
        root = parse(frame_sign(screen(wet_minutes=20), NOW, 58))
        self.assertAlmostEqual(float(root.get("height")) / float(root.get("width")), 790 / 580, places=2)
        self.assertEqual(by_class(root, "coat")[0].get("fill"), "#7FA99B")
        self.assertEqual(len(by_class(root, "wet-mark")), 3)
        self.assertIn("coated and wet", root.get("aria-label"))

    def test_finer_mesh_is_hatched_finer(self):
        lines = [
            by_class(parse(frame_sign(screen(count=n), NOW)), "thread")[0].get("d").count("M") for n in (10, 43, 140)
        ]
        self.assertEqual(lines, sorted(lines))
        self.assertLess(lines[0], lines[2])


class RackTests(TestCase):
    def test_slots_stand_where_they_are_with_their_screens_and_links(self):
        slots = [
            {
                "slot": SimpleNamespace(code=f"D-0{n}", column=n, row=1, width_mm=680, height_mm=930),
                "screen": screen() if n == 1 else None,
                "reason": "too small" if n == 2 else "",
                "marked": n == 1,
            }
            for n in (1, 2)
        ]
        rack = SimpleNamespace(name="Dark cupboard", dark=True)
        root = parse(rack_elevation(rack, slots, NOW, {"D-01": "/screens/Q-014/"}))
        self.assertIn("1 of 2 slots taken", root.get("aria-label"))
        boxes = by_class(root, "slot-dark")
        self.assertLess(float(boxes[0].get("x")), float(boxes[1].get("x")))
        self.assertEqual([e.get("href") for e in root.iter(f"{_SVG}a")], ["/screens/Q-014/"])
        self.assertEqual((len(by_class(root, "slot-unfit")), len(by_class(root, "slot-marked"))), (1, 1))


class MoirePictureTests(TestCase):
    def test_the_plot_marks_the_angle_in_use_and_where_bands_show(self):
        scan = [(a, 5 if a < 10 else 0.5) for a in range(91)]
        root = parse(beat_plot(scan, 1.2, 22.5, [45]))
        needle = float(re.match(r"M([\d.]+)", by_class(root, "strip-needle")[0].get("d"))[1])
        calm = float(by_class(root, "plot-calm")[0].get("cx"))
        # Halfway to the calm angle from the start of the scale at 0°.
        start = float(by_class(root, "plot-shows")[0].get("x"))
        self.assertAlmostEqual(needle - start, (calm - start) / 2, places=1)
        self.assertIn("calmer at 45°", root.get("aria-label"))

    def test_the_overlay_is_to_scale(self):
        root = parse(overlay(60, 64, 20, 0, 0))
        self.assertIn("12.0 mm wide", root.get("aria-label"))
        threads = by_class(root, "overlay-threads")[0]
        # 12 mm are drawn 420 px wide, so a 64 µm thread is 2.24 px.
        self.assertAlmostEqual(float(threads.get("stroke-width")), 2.24, places=2)


class EscapeTests(TestCase):
    def test_typed_words_cannot_break_out_of_a_picture(self):
        sign = frame_sign(screen(code='"><script>x</script>'), NOW)
        self.assertNotIn("<script>", sign)
        self.assertNotIn("<script>", text(1, 1, "<script>"))
        self.assertNotIn("style=", sign)
