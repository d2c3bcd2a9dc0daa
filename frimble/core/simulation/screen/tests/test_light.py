"""Light under a film: the closed forms against numbers, against each other, and against the raster."""

from dataclasses import replace

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import norm

from frimble.core.simulation.screen.light import light_in_slit, slit_with, spread_that_closes
from frimble.core.simulation.screen.raster import spread_under
from frimble.core.simulation.stencil import SimulatedCoat
from frimble.core.simulation.stencil_photo import USUAL_LIGHT, Fault, make_stencil
from frimble.core.testing.case import CoreCase

PX_MM = 100.0


def slit(width_um: float, leak: float = 0.0) -> np.ndarray:
    """3 mm of clear film with a black slit down its middle, at 10 µm a pixel."""
    light = np.ones((61, 301), np.float32)
    half = int(width_um / 1000 * PX_MM / 2)
    light[:, 150 - half : 151 + half] = leak
    return light


class SlitTests(CoreCase):
    def test_the_middle_of_a_slit_is_what_the_spread_leaves_of_the_light_on_both_sides(self):
        # Source: scipy.stats.norm: light from beyond both edges is the two tails of the spread.
        for width, spread, leak in ((50, 20, 0.0), (150, 40, 0.01), (300, 60, 0.1)):
            tails = 2 * norm.sf(width / 2, scale=spread)
            self.assertAlmostEqual(light_in_slit(width, spread, leak), leak + (1 - leak) * tails, places=9)

    @given(st.floats(0.02, 0.98), st.floats(5, 100), st.floats(0, 0.01))
    def test_a_width_and_its_light_turn_each_other_round(self, share, spread, leak):
        self.assertAlmostEqual(light_in_slit(slit_with(share, spread, leak), spread, leak), share, places=6)

    def test_what_gels_under_clear_film_alone_closes_no_slit(self):
        self.assertEqual(slit_with(1.0, 30), 0)
        self.assertEqual(slit_with(1.5, 30), 0)

    @given(st.floats(30, 400), st.floats(1.5, 40))
    def test_the_spread_that_closes_an_opening_leaves_the_gel_dose_in_its_middle(self, opening, gel_times):
        spread = spread_that_closes(opening, gel_times)
        self.assertAlmostEqual(light_in_slit(opening, spread) * gel_times, 1, places=6)

    def test_the_raster_gives_what_the_closed_form_does(self):
        # Source: the closed form, itself held against scipy above.
        for width, spread, leak in ((110, 40, 0.0), (210, 60, 0.05)):
            seen = spread_under(slit(width, leak), PX_MM, spread)
            self.assertAlmostEqual(float(seen[30, 150]), light_in_slit(width, spread, leak), delta=0.005)
        bare = slit(110)
        self.assertIs(spread_under(bare, PX_MM, 0), bare)


class StencilOfAFilmTests(CoreCase):
    """Films with slits and lines, at 10 µm a pixel, under a light whose ends are known from the closed forms."""

    light = replace(USUAL_LIGHT, spread_um=60, time_s=90)

    def opened(self, width_um: float, light) -> bool:
        black = np.zeros((200, 301), bool)
        half = round(width_um / 1000 * PX_MM / 2)
        black[20:180, 150 - half : 151 + half] = True
        return bool(make_stencil(black, PX_MM, (), light).open_share[100, 150])

    def test_a_slit_opens_where_it_is_wider_than_the_finest_that_does(self):
        # Source: the closed form.
        finest = self.light.finest_open_um()
        self.assertFalse(self.opened(finest - 25, self.light))
        self.assertTrue(self.opened(finest + 25, self.light))

    def test_more_light_closes_what_less_leaves_open(self):
        width = self.light.finest_open_um() + 25
        self.assertFalse(self.opened(width, replace(self.light, time_s=400)))

    def test_a_line_that_finds_no_thread_breaks_away(self):
        # Source: by hand: light falls to the gel's share 19 µm from the middle of so narrow a line.
        black = np.ones((200, 301), bool)
        # What gels of it is some 40 µm wide: narrower than a line must be to find a thread.
        black[:, 149:151] = False
        self.assertTrue(make_stencil(black, PX_MM, (), replace(USUAL_LIGHT, spread_um=10)).open_share[100, 150])
        black[:, 130:171] = False
        self.assertFalse(make_stencil(black, PX_MM, (), USUAL_LIGHT).open_share[100, 150])

    def test_a_fault_is_put_into_what_stands(self):
        black = np.zeros((200, 301), bool)
        made = make_stencil(black, PX_MM, (Fault("pinhole", 1.5, 1.0, 0.4),))
        self.assertEqual((made.open_share[100, 150], made.open_share[100, 250]), (1, 0))
        self.assertEqual(len(made.faults), 1)


class GradedByEyeTests(CoreCase):
    def test_the_detail_closes_where_the_latitude_ends(self):
        # Source: the coat's own constants.
        coat = SimulatedCoat(gel_s=4, cure_ratio=5, latitude=1.6, detail_um=150)
        ends = coat.full_cure_s * coat.latitude
        self.assertEqual(coat.finest_opening_um(ends * 0.999), 150)
        self.assertEqual(coat.finest_opening_um(ends * 1.01), 200)

    def test_openings_never_get_finer_with_more_light(self):
        coat = SimulatedCoat(gel_s=4)
        seen = [coat.finest_opening_um(4 * 1.2**k) for k in range(25)]
        self.assertEqual(seen, sorted(seen))
        self.assertEqual(seen[0], 50)
