"""A simulated transmission densitometer."""

import random


def read_film(true_dmax: float, true_dmin: float, seed: int) -> tuple[float, float]:
    """(Dmax, Dmin) as read, to a hundredth; the same seed reads the same."""
    rng = random.Random(seed)
    return round(rng.gauss(true_dmax, 0.02), 2), round(max(0.0, rng.gauss(true_dmin, 0.005)), 2)
