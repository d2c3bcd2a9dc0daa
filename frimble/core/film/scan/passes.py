"""The passes over the whole picture that need nothing but its levels.

Marks are looked for first, in tiles on both cores. The other passes are left to run beside the rest: image passes let go
of the interpreter, so one thread of them fills the time in which densities are read and marks are judged.
"""

from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass

from frimble.core.film.detection import lines, marks
from frimble.core.film.detection.lines import Strokes
from frimble.core.film.detection.marks import DarkMarks, SmallMarks
from frimble.core.film.detection.patterns import Patterned, patterned
from frimble.core.film.findings import Limits
from frimble.core.film.scan.grid import Cells, Levels, Scan, coarser
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
    coarse = coarser(grey, scan)
    bright = marks.bright_marks(grey, scan, cells, levels)
    dark = marks.dark_marks(grey, coarse, scan, cells, levels)
    pool = ThreadPoolExecutor(1)
    try:
        return ScanPasses(
            dark=pool.submit(patterned, dark, scan),
            bright=pool.submit(patterned, bright, scan),
            gaps=pool.submit(lines.strokes_of, coarse, scan, levels, limits, gaps=True),
            lines=pool.submit(lines.strokes_of, coarse, scan, levels, limits, gaps=False),
            turn=pool.submit(skew_deg, coarse, scan),
        )
    finally:
        pool.shutdown(wait=False)
