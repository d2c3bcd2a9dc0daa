"""A simulated thickness gauge: readings of a coated screen scattered about its true thickness."""

import random

_GAUGE_SCATTER_UM = 1.0
_PLACE_SCATTER_UM = 2.0


def read_coat(true_um: float, seed: int, places: int = 5) -> list[float]:
    """One reading at each place, µm to a whole; the same seed reads the same."""
    rng = random.Random(seed)
    return [
        float(round(true_um + rng.gauss(0, _PLACE_SCATTER_UM) + rng.gauss(0, _GAUGE_SCATTER_UM))) for _ in range(places)
    ]
