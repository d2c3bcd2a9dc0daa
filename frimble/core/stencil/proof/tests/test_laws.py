"""What holds of every proof, whatever the film, coat and time."""

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from frimble.core.mesh.geometry import geometry
from frimble.core.settings import HouseSettings
from frimble.core.simulation.screen.light import exposure
from frimble.core.stencil.proof.kinds import ProofKind
from frimble.core.stencil.proof.proofing import proof
from frimble.core.testing.case import CoreCase

_SETTINGS = HouseSettings()
_MESH = geometry(77, 48, _SETTINGS)
_DPI = 1270.0

_coats = st.fixed_dictionaries(
    {
        "thickness_um": st.floats(40, 200), "over_mesh_um": st.floats(0, 35), "time_s": st.floats(5, 500),
        "gel_s": st.floats(2, 20), "spread_um": st.floats(5, 80), "dmax": st.floats(0.8, 4.0), "dmin": st.floats(0.02, 0.2),
    }
)  # fmt: skip


def lit(coat: dict, **more):
    return exposure(**(coat | {"full_s": 5 * coat["gel_s"]} | more))


def film(seed: int) -> np.ndarray:
    """Boxes, lines and dots thrown on a sheet of 8 × 8 mm."""
    rng = np.random.default_rng(seed)
    sheet = np.zeros((400, 400), bool)
    for _ in range(6):
        x, y, wide, high = rng.integers(20, 300), rng.integers(20, 300), rng.integers(2, 80), rng.integers(2, 80)
        sheet[y : y + high, x : x + wide] = True
    return sheet


class LightLawsTests(CoreCase):
    @given(_coats)
    def test_more_light_never_opens_and_never_lets_go(self, coat):
        # Source: trade: long closes, short washes away.
        less, more = lit(coat), lit(coat, time_s=coat["time_s"] * 1.5)
        for finer, coarser in (
            (less.finest_open_um(), more.finest_open_um()),
            (more.finest_held_um(), less.finest_held_um()),
        ):
            if coarser is not None:
                self.assertIsNotNone(finer)
                self.assertLessEqual(finer, coarser + 1e-6)

    @given(_coats)
    def test_what_holds_has_gelled_and_full_cure_takes_more(self, coat):
        light = lit(coat)
        self.assertLessEqual(light.gel_share, light.hold_share)
        self.assertLessEqual(light.hold_share, light.full_share * (1 + 1e-9))

    @given(_coats, st.floats(1, 400))
    def test_the_light_in_a_slit_lies_between_black_s_and_clear_s(self, coat, width):
        light = lit(coat)
        found = light.middle_of_slit(width)
        self.assertTrue(light.leak - 1e-9 <= found <= 1 + 1e-9)
        self.assertGreaterEqual(found + 1e-12, light.middle_of_slit(width * 1.1))

    @given(_coats)
    def test_a_slit_as_narrow_as_the_finest_just_gels_in_its_middle(self, coat):
        # Source: the inverse of the closed form.
        light = lit(coat)
        finest = light.finest_open_um()
        if finest:
            self.assertAlmostEqual(light.middle_of_slit(finest), light.gel_share, places=6)


class ProofLawsTests(CoreCase):
    @settings(max_examples=15, deadline=None)
    @given(_coats, st.integers(0, 50))
    def test_longer_light_opens_no_more_of_the_film(self, coat, seed):
        sheet = film(seed)
        shares = [
            proof(sheet, _DPI, _MESH, lit(coat, time_s=coat["time_s"] * k), _SETTINGS).opened_share for k in (1, 1.6)
        ]
        # A stencil that does not hold at the shorter time is all open, and no less at the longer.
        self.assertLessEqual(shares[1], shares[0] + 1e-9)

    @settings(max_examples=15, deadline=None)
    @given(_coats, st.integers(0, 50))
    def test_findings_lie_on_the_film_and_say_why(self, coat, seed):
        found = proof(film(seed), _DPI, _MESH, lit(coat), _SETTINGS)
        self.assertTrue(0 <= found.opened_share <= 1)
        for f in found.findings:
            self.assertTrue(f.why and f.width_mm > 0 and f.height_mm > 0)
            self.assertTrue(f.x_mm >= -0.01 and f.x_mm + f.width_mm <= 8.01, f)
            self.assertTrue(f.y_mm >= -0.01 and f.y_mm + f.height_mm <= 8.01, f)
            if f.kind is ProofKind.CLOSES:
                self.assertTrue(0 < f.value <= 1)

    def test_broad_work_at_the_right_time_has_no_findings(self):
        # Common practice, no source: lines of a millimetre on 77-48, cured through, on dense film.
        sheet = np.zeros((400, 400), bool)
        sheet[100:300, 60:140] = sheet[100:300, 220:340] = True
        coat = {
            "thickness_um": 90,
            "over_mesh_um": 12,
            "time_s": 60,
            "gel_s": 12,
            "spread_um": 22,
            "dmax": 3.2,
            "dmin": 0.05,
        }
        found = proof(sheet, _DPI, _MESH, lit(coat), _SETTINGS)
        self.assertEqual(found.findings, ())
        self.assertGreater(found.opened_share, 0.95)
