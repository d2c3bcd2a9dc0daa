"""Every kind of finding says what it means and what to do, with its own numbers."""

from frimble.core.film import words
from frimble.core.film.densities import REMEDIES
from frimble.core.film.findings import Finding, limits_for
from frimble.core.film.kinds import KINDS
from frimble.core.mesh.geometry import geometry
from frimble.core.testing.case import CoreCase


class KindTests(CoreCase):
    def setUp(self):
        super().setUp()
        mesh = geometry(43, 80, self.house_settings)
        self.limits = limits_for(self.house_settings, mesh, "43-80")

    def explained(self, kind, value, dmax=3.2):
        return words.explain(Finding(kind, 10, 10, 5, 5, value), self.limits, dmax)

    def verdict(self, *findings, dmax=3.2):
        return words.verdict(findings, dmax, False, 0.05, self.limits)

    def test_each_gives_a_reason_with_its_value_and_a_remedy(self):
        for kind in KINDS:
            result = self.explained(kind, 0.12)
            with self.subTest(kind):
                self.assertIn("0.12", result.why)
                self.assertTrue(result.why.endswith("."))
                self.assertTrue(result.remedy.endswith("."))
                self.assertEqual((result.label, result.unit), (KINDS[kind].label, KINDS[kind].unit))

    def test_a_weak_area_says_how_much_more_light_leaks(self):
        # Source: ISO 5-2, density is the negative logarithm of transmittance: 1.2 less is 16 times the light.
        result = self.explained("weak_area", 2.0, dmax=3.2)
        self.assertIn("16 times as much", result.why)
        self.assertIn(REMEDIES[1], result.remedy)

    def test_what_holds_is_said_for_the_mesh_it_is_meant_for(self):
        # Source: geometry; the floor is an opening and two threads, 10 000/43 + 80 = 313 µm.
        self.assertIn("0.31 mm is the least that holds on 43-80", self.explained("thin_line", 0.12).why)

    def test_both_floors_are_said_where_a_mesh_has_its_own(self):
        # Source: geometry; the floor is an opening and two threads, 10 000/43 + 80 = 313 µm.
        house = f"the house asks {self.house_settings['film.least_line_mm']:.2f} mm"
        self.assertEqual(self.limits.floors, f"{house}, the mesh's own floor is 0.31 mm")
        self.assertIn(self.limits.floors, self.explained("thin_line", 0.12).why)
        self.assertEqual(limits_for(self.house_settings).floors, "")
        self.assertIn("0.313 mm holds on 43-80", self.explained("small_dot", 0.12).why)

    def test_harmless_ones_fail_no_film_and_are_still_told(self):
        speck, small = Finding("speck", 0, 0, 1, 1, 0.2), Finding("type_size", 0, 0, 1, 1, 5)
        verdict, reason = self.verdict(speck, speck, small)
        self.assertEqual(verdict, "passed")
        self.assertIn("2 specks on clear film: wipe, or block in the stencil.", reason)
        self.assertIn("1 run of type below the trade's floor: look at them.", reason)
        self.assertTrue(speck.harmless and small.harmless)

    def test_every_other_one_fails_it_and_is_counted_in_english(self):
        for kind, row in KINDS.items():
            one = Finding(kind, 0, 0, 1, 1, 0.1)
            verdict, reason = self.verdict(one)
            self.assertEqual(verdict, "faults" if row.though_passed is None else "passed", kind)
            if verdict.due:
                self.assertEqual(reason, f"1 {row.label}.")
                self.assertEqual(self.verdict(one, one)[1], f"2 {row.plural}.")

    def test_a_black_that_is_too_weak_fails_a_film_without_findings(self):
        verdict, reason = self.verdict(dmax=1.4)
        self.assertEqual(verdict, "faults")
        self.assertIn("The black is 1.35 above clear film", reason)
        self.assertIn(", ".join(REMEDIES[:2]), reason)

    def test_a_drawn_film_has_no_density_to_be_known(self):
        verdict, reason = words.verdict((), None, False, 0.0, self.limits, drawn=True)
        self.assertEqual(verdict, "passed")
        self.assertEqual(reason, "Nothing found that would show in the print.")
