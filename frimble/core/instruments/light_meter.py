"""A simulated UV light meter."""

import math
import random

_MIDDLE = {"point": 6.0, "tubes": 2.5, "panel": 12.0, "sun": 3.0}


def read_light(seed: int, geometry: str, distance_mm: float, hours: float) -> float:
    """mW/cm² in the middle, to three figures: falls with distance and hours; the sky as it pleases."""
    rng = random.Random(seed)
    if geometry == "sun":
        return float(f"{_MIDDLE['sun'] * rng.uniform(0.3, 1.2):.3g}")
    away = (500 / distance_mm) ** (2 if geometry == "point" else 0.5)
    return float(f"{_MIDDLE[geometry] * away * math.exp(-0.15 * hours / 1000) * rng.gauss(1, 0.02):.3g}")


def read_field(seed: int, geometry: str, distance_mm: float, corner_mm: float = 350.0) -> list[list[float]]:
    """Three rows of three readings over a glass whose corners are `corner_mm` from the middle."""
    rng = random.Random(seed)

    def at(row: int, column: int) -> float:
        off = corner_mm * math.hypot(row, column) / math.sqrt(2)
        fall = math.cos(math.atan2(off, distance_mm)) ** 4 if geometry == "point" else 1 - 0.1 * math.hypot(row, column)
        return float(f"{_MIDDLE[geometry] * fall * rng.gauss(1, 0.015):.3g}")

    return [[at(row, column) for column in (-1, 0, 1)] for row in (-1, 0, 1)]
