"""Halftone on mesh: dot sizes, the smallest dot a mesh holds, and the mesh a ruling wants."""

import math
from collections.abc import Mapping
from dataclasses import dataclass

from frimble.core.conclusion import OutOfRange, require_between
from frimble.core.units import MM_PER_INCH

# Above this coverage round dots touch, and what is left are holes.
TOUCHING = math.pi / 4


def dot_pitch_um(ruling_lpi: float, standards: Mapping) -> float:
    """Distance from dot to dot, µm, of a ruling in lines per inch.

    Raises:
        OutOfRange: the ruling is not positive or beyond belief.
    """
    require_between(ruling_lpi, 1, standards["halftone.highest_lpi"], "The ruling, in lines per inch,", "ruling_lpi")
    return MM_PER_INCH * 1000 / ruling_lpi


def round_dot_um(coverage: float, ruling_lpi: float, standards: Mapping) -> float:
    """Diameter of a round dot, µm, before dots touch.

    Args:
        coverage: share of the area printed, 0 < coverage ≤ π/4.
        ruling_lpi: lines per inch.

    Raises:
        OutOfRange: coverage where dots touch (ask for the hole of 1 − coverage instead), or an absurd ruling.

    Source: geometry; one dot of area c·p² on each square of side p.
    """
    if not 0 < coverage <= TOUCHING:
        raise OutOfRange(
            f"Round dots have a diameter up to {TOUCHING * 100:.0f} % coverage; {coverage * 100:g} % was given. "
            "Beyond it ask for the hole, 100 % less the coverage.",
            "coverage",
        )
    return dot_pitch_um(ruling_lpi, standards) * math.sqrt(4 * coverage / math.pi)


def dot_floor_um(opening_um: float, thread_um: float) -> float:
    """Smallest dot, hole or line that holds on a mesh, µm: one opening and its two threads. Common practice."""
    return opening_um + 2 * thread_um


@dataclass(frozen=True)
class DotRange:
    """Coverages a mesh holds at a ruling: from the smallest dot to the smallest hole; `floor_um` is both their size."""

    floor_um: float
    smallest_dot: float
    largest_tone: float


def dot_range(opening_um: float, thread_um: float, ruling_lpi: float, standards: Mapping) -> DotRange | None:
    """Tones a mesh holds at a ruling; None when even touching dots are too small for it."""
    floor = dot_floor_um(opening_um, thread_um)
    coverage = math.pi / 4 * (floor / dot_pitch_um(ruling_lpi, standards)) ** 2
    return DotRange(floor, coverage, 1 - coverage) if coverage <= TOUCHING else None


def least_count_per_cm(ruling_lpi: float, factor: float, standards: Mapping) -> float:
    """Mesh count a ruling wants, threads per cm: `factor` × the ruling in the same unit. Common practice."""
    require_between(factor, 1, 20, "The factor", "factor")
    return factor * 10_000 / dot_pitch_um(ruling_lpi, standards)
