"""Curves and lines whose places tell numbers: a proof's losses and tones, windows, threads, skills, drills' scenes."""

import math
from itertools import pairwise
from types import SimpleNamespace

from frimble.core.training.scene import Box, Disc, Scene, Stroke, Tone, Words
from frimble.ui.pictures.mesh.count_line import count_line
from frimble.ui.pictures.stencil.proof import proof_times, proof_tones, window_times
from frimble.ui.pictures.training.scene import scene_picture
from frimble.ui.pictures.training.skills import skills_picture
from frimble.ui.tests.test_register_pictures import PictureCase


def points_of(line):
    """[(x, y)] of a polyline."""
    return [tuple(map(float, pair.split(","))) for pair in line.get("points").split()]


class ProofTimesTests(PictureCase):
    # Seconds, share of black that closes, share of clear film that washes away.
    TRIED = ((5.0, 0.0, 0.2), (10.0, 0.0, 0.05), (20.0, 0.02, 0.0), (40.0, 0.1, 0.0))

    def curve(self, class_):
        (line,) = self.drawn(proof_times(self.TRIED, 20.0), class_=class_)
        return points_of(line)

    def test_twice_as_long_is_as_far_to_the_right_each_time(self):
        # Source: a logarithmic scale: equal ratios, equal lengths.
        x = [x for x, _ in self.curve("proof-line-closed")]
        steps = [b - a for a, b in pairwise(x)]
        self.assertEqual(len({round(step, 0) for step in steps}), 1)

    def test_what_closes_rises_with_time_and_what_washes_away_falls(self):
        # The page's own y runs down.
        closed, washed = ([y for _, y in self.curve(c)] for c in ("proof-line-closed", "proof-line-washed"))
        self.assertEqual(closed, sorted(closed, reverse=True))
        self.assertEqual(washed, sorted(washed))

    def test_the_proofs_time_stands_where_the_curve_has_it(self):
        (here,) = self.drawn(proof_times(self.TRIED, 20.0), class_="lane-now")
        self.assertAlmostEqual(float(here.get("x1")), self.curve("proof-line-closed")[2][0], delta=0.1)

    def test_a_time_beyond_those_tried_is_still_on_the_picture(self):
        (here,) = self.drawn(proof_times(self.TRIED, 90.0), class_="lane-now")
        self.assertGreater(float(here.get("x1")), 600)


class ToneTests(PictureCase):
    TONES = ((0.1, 0.0, 12), (0.5, 0.42, 30), (0.9, 0.95, 12))

    def test_tones_that_stay_lie_on_the_line_on_which_nothing_changes(self):
        svg = proof_tones([(share, share, 5) for share in (0.0, 0.25, 1.0)])
        (edge,), (curve,) = self.drawn(svg, class_="plot-edge"), self.drawn(svg, class_="proof-line-closed")
        x1, y1, x2, y2 = (float(edge.get(name)) for name in ("x1", "y1", "x2", "y2"))
        for x, y in points_of(curve):
            self.assertAlmostEqual((y - y1) * (x2 - x1), (x - x1) * (y2 - y1), delta=15)

    def test_what_becomes_of_each_tone_is_said_to_those_who_cannot_see_it(self):
        title = next(e for e in self.drawn(proof_tones(self.TONES)) if e.tag.endswith("title"))
        self.assertEqual(title.text, "Tones: 10% becomes 0%, 50% becomes 42%, 90% becomes 95%")


class WindowTests(PictureCase):
    def window(self, cured, closes):
        low, high = cured * 0.9, cured * 1.1
        return SimpleNamespace(
            cured=SimpleNamespace(value=cured, low=low, high=high), closes_s=closes, closed=closes <= cured
        )

    def test_a_window_lies_between_cure_and_closing(self):
        svg = window_times(self.window(20, 40), 28, 80)
        (open_,), (taken,) = self.drawn(svg, class_="week-half"), self.drawn(svg, class_="lane-now")
        left, wide = float(open_.get("x")), float(open_.get("width"))
        # Source: by hand: from 20 to 40 of 80 s are a quarter of 560 px; 28 s are two fifths into it.
        self.assertAlmostEqual(wide, 140, delta=0.5)
        self.assertAlmostEqual((float(taken.get("x1")) - left) / wide, 0.4, places=2)

    def test_detail_that_closes_before_the_cure_leaves_no_window(self):
        svg = window_times(self.window(40, 30), 38, 80)
        self.assertEqual(self.drawn(svg, class_="week-half"), [])

    def test_times_beyond_the_line_end_at_its_end(self):
        (taken,) = self.drawn(window_times(self.window(20, 40), 500, 80), class_="lane-now")
        self.assertAlmostEqual(float(taken.get("x1")), 570, delta=0.5)


class CountLineTests(PictureCase):
    def test_the_interval_holds_the_count_and_meshes_near_it_are_named(self):
        svg = count_line(77.4, 76.0, 78.8, (43, 68, 77, 90, 120))
        (bar,), (here,) = self.drawn(svg, class_="count-interval"), self.drawn(svg, class_="count-here")
        left, wide = float(bar.get("x")), float(bar.get("width"))
        self.assertTrue(left < float(here.get("x1")) < left + wide)
        title = next(e for e in self.drawn(svg) if e.tag.endswith("title"))
        # Source: by hand: within 16 % of 77.4 lie 68 and 77; 90 lies beyond.
        self.assertTrue(title.text.endswith("meshes here: 68, 77"), title.text)

    def test_where_no_mesh_is_near_that_is_said(self):
        title = next(e for e in self.drawn(count_line(30.0, 29.5, 30.5, (77, 120))) if e.tag.endswith("title"))
        self.assertIn("none near", title.text)

    def test_a_count_known_exactly_can_still_be_seen(self):
        (bar,) = self.drawn(count_line(77.0, 77.0, 77.0, (77,)), class_="count-interval")
        self.assertGreaterEqual(float(bar.get("width")), 2)


class SkillTests(PictureCase):
    def row(self, title, level, low, high, drilled=True):
        words = "steady, from 6 drills" if drilled else "never drilled"
        return SimpleNamespace(title=title, level=level, low=low, high=high, words=words, drilled=drilled)

    def test_a_level_lies_between_its_ends_and_higher_ones_further_right(self):
        svg = skills_picture([self.row("Films", 2.0, 1.5, 2.8), self.row("Coats", 4.0, 3.2, 4.6)])
        middles = [float(e.get("cx")) for e in self.drawn(svg, class_="week-middle")]
        bars = self.drawn(svg, class_="week-half")
        self.assertLess(middles[0], middles[1])
        for middle, bar in zip(middles, bars, strict=True):
            left, wide = float(bar.get("x")), float(bar.get("width"))
            self.assertTrue(left < middle < left + wide)

    def test_what_was_never_drilled_has_a_name_and_no_level(self):
        svg = skills_picture([self.row("Films", 3, 1, 5, drilled=False)])
        self.assertEqual(self.drawn(svg, class_="week-middle"), [])
        self.assertIn("Films", "".join(e.text or "" for e in self.drawn(svg, "text")))


class SceneTests(PictureCase):
    def test_every_shape_is_drawn_in_its_tone_and_words_are_escaped(self):
        shapes = (
            Box(0, 0, 10, 5, Tone.COAT), Box(0, 0, 10, 5, Tone.INK, outline=True), Disc(5, 5, 2, Tone.MARK),
            Stroke(0, 0, 9, 9, Tone.RIGHT, 4), Words(1, 1, "a < b"),
        )  # fmt: skip
        svg = scene_picture(Scene(100, 50, shapes, "A drill"))
        self.assertEqual(len(self.drawn(svg, "rect")), 2)
        self.assertEqual(len(self.drawn(svg, class_="tone-ink-line")), 1)
        self.assertEqual(len(self.drawn(svg, "circle", "tone-mark")), 1)
        (line,) = self.drawn(svg, "line")
        self.assertEqual(math.hypot(float(line.get("x2")), float(line.get("y2"))), math.hypot(9, 9))
        self.assertEqual([e.text for e in self.drawn(svg, "text")], ["a < b"])
