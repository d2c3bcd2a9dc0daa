"""A simulated cabinet hygrometer."""

import random


def read_cabinet(seed: int, centre_c: float = 34.0, centre_humidity: float = 0.45) -> tuple[float, float]:
    """Temperature, °C to a tenth, and relative humidity, 0..1 to a hundredth."""
    rng = random.Random(seed)
    return round(rng.gauss(centre_c, 0.8), 1), round(min(0.95, max(0.1, rng.gauss(centre_humidity, 0.03))), 2)
