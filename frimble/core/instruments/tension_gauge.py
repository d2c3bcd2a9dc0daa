"""A simulated tension gauge: readings scattered about a screen's true tension."""

import random
from collections.abc import Sequence

from frimble.core.tension.measurement import DIRECTIONS, FIVE_PLACES, TensionReading

_GAUGE_SCATTER = 0.25
_PLACE_SCATTER = 0.5
_WEFT_SHIFT = -0.6


def read_screen(
    true_n_per_cm: float,
    seed: int,
    per_place: int = 2,
    places: Sequence[str] = FIVE_PLACES,
    direction_gap: float = _WEFT_SHIFT,
) -> list[TensionReading]:
    """`per_place` readings in warp and weft at every place, N/cm to a tenth; the same seed reads the same.

    `direction_gap` is how far weft lies from warp, N/cm.
    """
    rng = random.Random(seed)
    readings = []
    for place in places:
        local = true_n_per_cm + rng.gauss(0, _PLACE_SCATTER)
        for direction in DIRECTIONS:
            level = local + (direction_gap / 2 if direction == "weft" else -direction_gap / 2)
            readings += [
                TensionReading(place, direction, round(max(1.0, level + rng.gauss(0, _GAUGE_SCATTER)), 1))
                for _ in range(per_place)
            ]
    return readings
