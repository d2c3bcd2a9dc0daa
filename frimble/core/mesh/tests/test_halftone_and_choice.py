import math

import numpy as np

from frimble.core.mesh import choice as mesh_choice
from frimble.core.mesh import geometry as mesh_geometry
from frimble.core.mesh import halftone, moire
from frimble.core.mesh.choice import MeshRequest
from frimble.core.settings import HouseSettings
from frimble.core.testing.case import CoreCase
from frimble.core.units import per_cm


def usual(settings):
    return [(f"{inch}-{um}", mesh_geometry.geometry(cm, um, settings)) for inch, cm, um in mesh_geometry.USUAL_MESHES]


class HalftoneTests(CoreCase):
    def test_a_dot_fills_its_share_of_its_square(self):
        # Source: geometry; a circle of diameter D on a square of side p covers π D² / 4 p².
        diameter = halftone.round_dot_um(0.2, 55, self.house_settings)
        pitch = 25400 / 55
        self.assertAlmostEqual(math.pi * diameter**2 / 4 / pitch**2, 0.2)

    def test_dots_touch_at_seventy_nine_per_cent(self):
        # Source: geometry; round dots touch at π/4 = 78.5 %.
        self.assertAlmostEqual(halftone.round_dot_um(math.pi / 4, 50, self.house_settings), 508)
        self.assertInvalidInput("coverage", "ask for the hole", halftone.round_dot_um, 0.9, 50, self.house_settings)

    def test_a_ruling_for_a_viewing_distance(self):
        # Source: arithmetic; one minute of arc at 1 m is 0.2909 mm, 25.4 / 0.2909 = 87.3 lines per inch.
        near = halftone.ruling_for(1, 120, self.house_settings)
        self.assertEqual(near.verdict, "dots will be seen")
        self.assertAlmostEqual(near.value, 305 / 5, delta=0.3)
        self.assertIn("melt together at 87 lines", near.reason)
        far = halftone.ruling_for(3, 120, self.house_settings)
        self.assertEqual(far.verdict, "dots will not be seen")
        self.assertAlmostEqual(far.value, 87.3 / 3, delta=0.1)
        self.assertInvalidInput("viewed_m", "between", halftone.ruling_for, 0, 120, self.house_settings)

    def test_305_34_at_55_lines_holds_about_the_five_per_cent_dot(self):
        # Common practice, no source. A dot holds when it spans one opening and its two threads: 305-34, 55 lines: 5 %.
        cloth = mesh_geometry.geometry(120, 34, self.house_settings)
        result = halftone.dot_range(cloth.opening_um, cloth.thread_um, 55, self.house_settings)
        self.assertAlmostEqual(result.smallest_dot, 0.05, delta=0.005)
        self.assertAlmostEqual(result.largest_tone, 0.95, delta=0.005)

    def test_a_mesh_too_coarse_for_any_dot_says_none(self):
        cloth = mesh_geometry.geometry(10, 260, self.house_settings)
        self.assertIsNone(halftone.dot_range(cloth.opening_um, cloth.thread_um, 55, self.house_settings))

    def test_45_lines_want_225_threads(self):
        # Common practice, no source. Mesh ≥ 5 × lines/inch: 45 → 225 → 230.
        self.assertAlmostEqual(halftone.least_count_per_cm(45, 5, self.house_settings), per_cm(225))

    def test_absurd_rulings_are_refused(self):
        for ruling in (0, -45, 4500, float("nan")):
            with self.subTest(ruling):
                self.assertInvalidInput("ruling_lpi", "between", halftone.dot_pitch_um, ruling, self.house_settings)


class MoireTests(CoreCase):
    def longest(self, count, ruling, dot_angle=0.0, mesh_angle=0.0):
        return moire.beats(count, ruling, dot_angle, mesh_angle, self.house_settings)[0]

    def test_two_line_grids_beat_at_their_difference(self):
        # Source: Amidror (2000); parallel gratings of 30 and 28 per cm beat 2 per cm, every 5 mm.
        result = self.longest(30, 28)
        self.assertAlmostEqual(result.period_mm, 5)
        self.assertEqual(result.order, 1)

    def test_equal_grids_turned_by_a_small_angle(self):
        # Source: Amidror (2000); period of two equal gratings is p / (2 sin(θ/2)).
        result = self.longest(30, 30, dot_angle=4)
        self.assertAlmostEqual(result.period_mm, (10 / 30) / (2 * math.sin(math.radians(2))))

    def test_a_ruling_that_divides_the_count_locks_without_end(self):
        self.assertEqual(self.longest(54, 18).period_mm, math.inf)

    def test_five_times_the_ruling_has_no_visible_beat_up_to_order_three(self):
        # Common practice, no source. Mesh at 5 × the ruling is the house rule that keeps beats out of sight.
        for angle in (0, 15, 22.5, 45, 75):
            with self.subTest(angle):
                self.assertIsNone(moire.longest_visible(90, 18, angle, 0, self.house_settings))

    def test_the_analytic_beat_is_the_one_in_the_spectrum_of_a_drawn_overlay(self):
        # Source: numpy.fft on a drawn overlay; the strongest line below both grids is the beat.
        for count, ruling, angle in ((30, 28, 5.0), (24, 27, 12.0), (40, 21, 3.0)):
            with self.subTest(count=count, ruling=ruling, angle=angle):
                result = self.longest(count, ruling, angle)
                self.assertAlmostEqual(10 / result.period_mm, self.spectrum_beat(count, ruling, angle), delta=0.3)

    def spectrum_beat(self, count, ruling, angle, side_cm=5.0, pixels=2000):
        """Frequency, per cm, of the strongest component of mesh × dots that is in neither alone."""
        axis = np.arange(pixels) * side_cm / pixels
        x, y = np.meshgrid(axis, axis)
        threads = ((x * count) % 1 > 0.35) & ((y * count) % 1 > 0.35)
        turn = math.radians(angle)
        u, v = x * math.cos(turn) + y * math.sin(turn), -x * math.sin(turn) + y * math.cos(turn)
        dots = np.hypot((u * ruling) % 1 - 0.5, (v * ruling) % 1 - 0.5) < 0.38
        window = np.outer(np.hanning(pixels), np.hanning(pixels))
        power = np.abs(np.fft.fft2((threads * dots - threads.mean() * dots.mean()) * window))
        f = np.fft.fftfreq(pixels, side_cm / pixels)
        radius = np.hypot(*np.meshgrid(f, f))
        low = (radius > 0.6) & (radius < 0.75 * min(count, ruling))
        return float(radius[low][np.argmax(power[low])])

    def test_best_angles_beat_shorter_than_the_worst(self):
        turns = moire.angle_scan(62, 22, 0, self.house_settings)
        scan = dict(turns)
        worst = max(b.period_mm for b in scan.values())
        for angle in moire.best_angles(turns):
            self.assertLess(scan[angle].period_mm, worst / 3)

    def test_the_verdict_names_the_bands_and_calmer_angles(self):
        result = moire.judge(54, 17, 0, 0, self.house_settings)
        self.assertEqual(result.verdict, "moiré")
        self.assertIn("Calmer dot angles", result.reason)
        self.assertEqual(moire.judge(90, 18, 22.5, 0, self.house_settings).verdict, "no visible beat")

    def test_absurd_grids_are_refused(self):
        self.assertInvalidInput("count", "more than 0", moire.beats, 0, 18, 0, 0, self.house_settings)
        self.assertInvalidInput("dot_angle", "between", moire.beats, 90, 18, 999, 0, self.house_settings)


class ChoiceTests(CoreCase):
    def choose(self, school="opacity", settings=None, **wanted):
        settings = settings or self.house_settings
        return mesh_choice.choose(usual(settings), MeshRequest(school, **wanted), settings)

    def test_45_lines_get_a_230(self):
        # Common practice, no source. 45 lines × 5 = 225, so the coarsest that serves is a 230.
        first = self.choose(ruling_lpi=45)[0]
        self.assertTrue(first.name.startswith("230-"))
        # Common practice, no source. Schools from 3.5 to 6: 45 lines want 158 to 270 threads.
        lenient = self.choose(ruling_lpi=45, settings=HouseSettings({"halftone.mesh_over_ruling": 3.5}))
        self.assertTrue(lenient[0].serves)
        self.assertLess(lenient[0].geometry.count_per_cm, first.geometry.count_per_cm)

    def test_the_nearest_to_what_none_serves_is_the_one_that_lacks_least(self):
        # By hand: 85 lines × 5 is 425 threads an inch; 420 is 4.9 times the ruling, 123 not even twice.
        for school in ("opacity", "soft"):
            with self.subTest(school):
                first = self.choose(school, ruling_lpi=85)[0]
                self.assertFalse(first.serves)
                self.assertTrue(first.name.startswith("420-"), first.name)
                self.assertAlmostEqual(first.short_by, 425 / 420, delta=0.02)

    def test_opacity_takes_the_most_ink_and_softness_the_least(self):
        # Common practice, no source. Coarse for opacity in one pass, finer for a softer hand.
        heavy, soft = self.choose("opacity", finest_um=300), self.choose("soft", finest_um=300)
        serving = [c.geometry.ink_volume_cm3_per_m2 for c in heavy if c.serves]
        self.assertEqual(serving, sorted(serving, reverse=True))
        first = soft[0].geometry
        self.assertLess(first.ink_volume_cm3_per_m2, serving[0])
        # Never the finest because it is the finest: 1.4 times the coarsest that serves.
        coarsest = min(c.geometry.count_per_cm for c in heavy if c.serves)
        self.assertAlmostEqual(first.count_per_cm / coarsest, 1.4, delta=0.15)

    def test_ties_go_to_the_customary_middle(self):
        # Common practice, no source. 110 for heavy white, 156 for a base with detail, 195–200 for spots, 305 simulated.
        for role, count in (("opaque", 110), ("base", 156), ("spot", 195), ("overprint", 230), ("simulated", 305)):
            with self.subTest(role):
                self.assertEqual(int(self.choose("opacity", role=role)[0].name.split("-")[0]), count)

    def test_each_school_says_its_own(self):
        meshes = usual(self.house_settings)
        said = mesh_choice.by_school(meshes, MeshRequest("opacity", finest_um=300), self.house_settings)
        self.assertGreater(said["opacity"].geometry.ink_volume_cm3_per_m2, said["soft"].geometry.ink_volume_cm3_per_m2)
        none = mesh_choice.by_school(meshes, MeshRequest("opacity", finest_um=10), self.house_settings)
        self.assertEqual(set(none.values()), {None})

    def test_a_thin_thread_is_warned_of(self):
        # From memory: thin thread clears ink better but loses the 5 to 8 % dots.
        meshes = [
            ("thin", mesh_geometry.geometry(77, 40, self.house_settings)),
            ("usual", mesh_geometry.geometry(77, 55, self.house_settings)),
        ]
        ranked = {
            c.name: c for c in mesh_choice.choose(meshes, MeshRequest("opacity", ruling_lpi=35), self.house_settings)
        }
        self.assertIn("5 to 8 %", ranked["thin"].warnings[0])
        self.assertEqual(ranked["usual"].warnings, ())
        plain = mesh_choice.choose(meshes, MeshRequest("opacity", finest_um=300), self.house_settings)
        self.assertEqual([c.warnings for c in plain], [(), ()])

    def test_customs_rank_and_do_not_exclude(self):
        # Common practice, no source. 305 simulated process; 355 four-colour; 110 water-based textile ink; 24 glitter.
        for asked, count in (
            ({"role": "simulated"}, range(280, 331)),
            ({"role": "process"}, range(330, 421)),
            ({"ink": "water"}, range(83, 201)),
            ({"role": "glitter"}, range(10, 55)),
        ):
            result = self.choose(**asked)
            self.assertTrue(all(c.serves for c in result), asked)
            self.assertIn(int(result[0].name.split("-")[0]), count, asked)
            self.assertEqual(result[0].departs, ())
            self.assertTrue(result[-1].departs)
        answer = self.choose(role="process")[-1]
        self.assertIn("coarser than usual for four-colour process, 330–420 per inch (130–165 per cm)", answer.departs)
        # A house that prints process on 305 says so among its settings.
        own = self.choose(role="process", settings=HouseSettings({"meshuse.role-process-least": 300}))
        self.assertIn(305, [int(c.name.split("-")[0]) for c in own if not c.departs])

    def test_what_the_print_needs_goes_before_custom(self):
        # 45 lines want 225 threads whatever the ink is usually printed through.
        result = self.choose(ruling_lpi=45, ink="metallic")
        self.assertTrue(result[0].serves)
        self.assertGreaterEqual(int(result[0].name.split("-")[0]), 225)
        self.assertIn("finer than usual for metallic", " ".join(result[0].departs))
        self.assertInvalidInput("ink", "none of plastisol", self.choose, ink="gravy")

    def test_particles_want_three_times_their_size(self):
        # Common practice, no source. Opening ≥ 3 × the largest particle; 200 µm glitter wants 600 µm: a 24.
        result = self.choose(particle_um=200)
        self.assertEqual([c.name for c in result if c.serves], ["24-260"])
        self.assertIn("want 600", result[-1].reasons[0])

    def test_what_does_not_serve_says_why(self):
        result = {c.name: c for c in self.choose(ruling_lpi=55, finest_um=100)}
        self.assertFalse(result["110-80"].serves)
        self.assertIn("2.0 × the ruling", " ".join(result["110-80"].reasons))
        self.assertIn("100 µm is wanted", " ".join(result["110-80"].reasons))

    def test_uses_follow_the_trade(self):
        # Common practice, no source. 24 glitter, 110 heavy white, 305 simulated process, 355 four-colour.
        for count, word in (
            (24, "glitter"),
            (110, "heavy opaque white"),
            (305, "simulated process"),
            (355, "four-colour"),
        ):
            with self.subTest(count):
                self.assertIn(word, mesh_choice.use_of(per_cm(count)))

    def test_nothing_asked_and_absurd_values_are_refused(self):
        self.assertInvalidInput("ruling_lpi", "at least one thing", self.choose)
        self.assertInvalidInput("finest_um", "more than 0", self.choose, finest_um=-1)
        self.assertInvalidInput("school", "opacity", self.choose, "luck", finest_um=100)
