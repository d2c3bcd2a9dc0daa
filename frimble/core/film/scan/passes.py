"""The passes over the whole picture that need nothing but its levels, begun at once and left to run beside the rest.

Image passes let go of the interpreter, so they fill the time in which densities are read and marks are judged.
"""

from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass

from frimble.core.film.detection import lines, marks
from frimble.core.film.detection.lines import Strokes
from frimble.core.film.detection.marks import DarkMarks, SmallMarks
from frimble.core.film.detection.patterns import Patterned, patterned
from frimble.core.film.findings import Limits
from frimble.core.film.scan.grid import Cells, Levels, Scan
from frimble.core.film.scan.skew import skew_deg


@dataclass(frozen=True)
class ScanPasses:
    """What will be known: bright and dark marks with their lattices, thin strokes and gaps, the turn of the artwork."""

    bright: Future[Patterned[SmallMarks]]
    dark: Future[Patterned[DarkMarks]]
    lines: Future[Strokes]
    gaps: Future[Strokes]
    turn: Future[float]


def begin(scan: Scan, cells: Cells, levels: Levels, limits: Limits) -> ScanPasses:
    """Start the passes; each result is asked for by its name."""
    grey = scan.grey()

    pool = ThreadPoolExecutor(2)
    try:
        return ScanPasses(
            bright=pool.submit(lambda: patterned(marks.bright_marks(grey, scan, cells, levels), scan)),
            dark=pool.submit(lambda: patterned(marks.dark_marks(grey, scan, cells, levels), scan)),
            gaps=pool.submit(lines.strokes_of, grey, scan, levels, limits, gaps=True),
            lines=pool.submit(lines.strokes_of, grey, scan, levels, limits, gaps=False),
            turn=pool.submit(skew_deg, grey, scan),
        )
    finally:
        pool.shutdown(wait=False)
