"""Drying after the wash follows the air."""

import math

from frimble.core.coating.drying import Air
from frimble.core.stencil.finishing import drying_minutes
from frimble.core.testing.case import CoreCase


class DryingTests(CoreCase):
    def test_it_dries_as_fast_as_the_air_takes_water(self):
        # Source: Magnus formula for saturation pressure, 611.2 Pa × exp(17.62 t ÷ (243.12 + t)); time goes with 1 ÷ deficit.
        def deficit(celsius, humidity):
            return 611.2 * math.exp(17.62 * celsius / (243.12 + celsius)) * (1 - humidity)

        warm = drying_minutes(Air(35, 0.4), self.house_settings)
        cool = drying_minutes(Air(20, 0.6), self.house_settings)
        self.assertAlmostEqual(cool.value / warm.value, deficit(35, 0.4) / deficit(20, 0.6), delta=0.05)
        self.assertLess(cool.interval.low, cool.value)
        self.assertIn("20 °C and 60 %", cool.reason)

    def test_air_that_cannot_be_is_refused(self):
        self.assertInvalidInput("humidity", "between 0 and 100", drying_minutes, Air(20, 1.4), self.house_settings)
