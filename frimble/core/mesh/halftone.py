"""Halftone on mesh: dot sizes, the smallest dot a mesh holds, and the mesh a ruling wants."""

import math
from dataclasses import dataclass

from frimble.core.conclusions import Conclusion, InvalidInput, Settings, require_between
from frimble.core.units import MM_PER_INCH, per_inch
from frimble.core.verdicts import Dots

# Above this coverage round dots touch, and what is left are holes.
TOUCHING = math.pi / 4


def dot_pitch_um(ruling_lpi: float, settings: Settings) -> float:
    """Distance from dot to dot, µm, of a ruling in lines per inch.

    Raises:
        InvalidInput: the ruling is not positive or beyond belief.
    """
    require_between(ruling_lpi, 1, settings["halftone.highest_lpi"], "The ruling, in lines per inch,", "ruling_lpi")
    return MM_PER_INCH * 1000 / ruling_lpi


def round_dot_um(coverage: float, ruling_lpi: float, settings: Settings) -> float:
    """Diameter of a round dot, µm, before dots touch.

    Args:
        coverage: share of the area printed, 0 < coverage ≤ π/4.
        ruling_lpi: lines per inch.

    Raises:
        InvalidInput: coverage where dots touch (ask for the hole of 1 − coverage instead), or an absurd ruling.

    Source: geometry; one dot of area c·p² on each square of side p.
    """
    if not 0 < coverage <= TOUCHING:
        raise InvalidInput(
            f"Round dots have a diameter up to {TOUCHING * 100:.0f} % coverage; {coverage * 100:g} % was given. "
            "Beyond it ask for the hole, 100 % less the coverage.",
            "coverage",
        )
    return dot_pitch_um(ruling_lpi, settings) * math.sqrt(4 * coverage / math.pi)


def dot_floor_um(opening_um: float, thread_um: float) -> float:
    """Smallest dot, hole or line that holds on a mesh, µm: one opening and its two threads. Common practice."""
    return opening_um + 2 * thread_um


@dataclass(frozen=True)
class DotRange:
    """Coverages a mesh holds at a ruling: from the smallest dot to the smallest hole; `floor_um` is both their size."""

    floor_um: float
    smallest_dot: float
    largest_tone: float


def dot_range(opening_um: float, thread_um: float, ruling_lpi: float, settings: Settings) -> DotRange | None:
    """Tones a mesh holds at a ruling; None when even touching dots are too small for it."""
    floor = dot_floor_um(opening_um, thread_um)
    coverage = math.pi / 4 * (floor / dot_pitch_um(ruling_lpi, settings)) ** 2
    return DotRange(floor, coverage, 1 - coverage) if coverage <= TOUCHING else None


def least_count_per_cm(ruling_lpi: float, factor: float, settings: Settings) -> float:
    """Mesh count a ruling wants, threads per cm: `factor` × the ruling in the same unit. Common practice."""
    require_between(factor, 1, 20, "The factor", "factor")
    return factor * 10_000 / dot_pitch_um(ruling_lpi, settings)


def ruling_for(viewed_m: float, count_per_cm: float, settings: Settings) -> Conclusion:
    """The ruling to take for a mesh and a viewing distance, lines per inch.

    The mesh holds its count over the house's factor. From `viewed_m` metres dots melt together when their pitch spans
    less than one minute of arc.

    Raises:
        InvalidInput: a distance or a count that cannot be.

    Source: ISO 8596, normal acuity of one minute of arc.
    """
    require_between(viewed_m, 0.1, 100, "The viewing distance, in m,", "viewed_m")
    require_between(count_per_cm, 1, settings["mesh.highest_per_cm"], "The mesh count, per cm,", "mesh")
    melts = MM_PER_INCH / (viewed_m * 1000 * math.tan(math.radians(1 / 60)))
    holds = per_inch(count_per_cm) / settings["halftone.mesh_over_ruling"]
    acuity = (
        f"From {viewed_m:g} m dots melt together at {melts:.0f} lines per inch; the mesh holds "
        f"{holds:.0f} at {settings['halftone.mesh_over_ruling']:g} threads a line."
    )
    if melts <= holds:
        reason = f"{acuity} A finer ruling than {melts:.0f} gains nothing and loses highlights."
        return Conclusion(melts, "lines/in", Dots.UNSEEN, reason, "acuity and the house's factor")
    reason = (
        f"{acuity} From {viewed_m:g} m its dots show; they melt from {viewed_m * melts / holds:.1f} m. A finer mesh, or a "
        "random halftone, hides them nearer."
    )
    return Conclusion(holds, "lines/in", Dots.SEEN, reason, "acuity and the house's factor")
