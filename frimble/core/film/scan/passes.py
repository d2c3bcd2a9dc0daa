"""The passes over the whole picture.

Marks are looked for in tiles on both cores. The other passes run beside what one core does: image passes let go of the
interpreter, so one thread of them fills the time in which levels and densities are read and marks are judged.
"""

from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass

from frimble.core.film.detection import lines, marks
from frimble.core.film.detection.halftones.patterns import Patterned, patterned
from frimble.core.film.detection.lines import Strokes
from frimble.core.film.detection.marks import DarkMarks, SmallMarks
from frimble.core.film.findings import Limits
from frimble.core.film.scan.grid import Cells, Levels, Scan, cells_of, coarser, levels_of
from frimble.core.film.scan.skew import skew_deg


@dataclass(frozen=True)
class ScanPasses:
    """The sheet's cells and levels, and what will be known: bright and dark marks with their lattices, thin strokes and
    gaps, the turn of the artwork."""

    cells: Cells
    levels: Levels
    bright: Future[Patterned[SmallMarks]]
    dark: Future[Patterned[DarkMarks]]
    lines: Future[Strokes]
    gaps: Future[Strokes]
    turn: Future[float]


def begin(scan: Scan, limits: Limits) -> ScanPasses:
    """Measure the sheet and start the passes; each result is asked for by its name.

    Raises:
        InvalidInput: no film can be seen.
    """
    cells = cells_of(scan)
    grey = scan.grey()
    coarse = coarser(grey, scan)
    pool = ThreadPoolExecutor(1)
    try:
        turn = pool.submit(skew_deg, coarse, scan)
        levels = levels_of(scan, cells)
        bright = marks.bright_marks(grey, scan, cells, levels)
        dark = marks.dark_marks(grey, coarse, scan, cells, levels)
        return ScanPasses(
            cells,
            levels,
            dark=pool.submit(patterned, dark, scan),
            bright=pool.submit(patterned, bright, scan),
            gaps=pool.submit(lines.strokes_of, coarse, scan, cells, levels, limits, gaps=True),
            lines=pool.submit(lines.strokes_of, coarse, scan, cells, levels, limits, gaps=False),
            turn=turn,
        )
    finally:
        pool.shutdown(wait=False)
