"""The exposure chart as one table: every coat in use against every light and film, calibrated, stale or only predicted."""

from dataclasses import dataclass

from frimble.exposures.chart.prediction import UntestedCombination
from frimble.exposures.models import ChartEntry


@dataclass(frozen=True)
class Cell:
    """What is known of one coat under one light through one film; neither entry nor estimate where it is not in use.

    Attributes:
        why: a calibrated time has moved, in one sentence; empty while it holds. first: test this one before the others.
    """

    entry: ChartEntry | None = None
    why: str = ""
    estimate: UntestedCombination | None = None
    first: bool = False


@dataclass(frozen=True)
class Coverage:
    """Lights and films across, coats down, a cell for each pair; and how many hold, want another test, were never tested."""

    columns: tuple[tuple[str, str], ...]
    rows: tuple[tuple[tuple[str, str, str], tuple[Cell, ...]], ...]
    holding: int
    moved: int
    untested: int


def coverage(entries, untested, teaches) -> Coverage:
    """The table of what is tested.

    Args:
        entries: (entry, what has moved since or "") of each calibrated time in force.
        untested: as from `prediction.untested`. teaches: conditions of the test that would teach most.
    """
    cells = {u.conditions: Cell(estimate=u, first=u.conditions == teaches) for u in untested}
    cells |= {e.conditions: Cell(entry=e, why=why) for e, why in entries}
    lights = sorted({_light(c) for c in cells})
    coats = sorted({_coat(c) for c in cells}, key=lambda coat: (_count(coat[0]), coat))
    at = {(_coat(c), _light(c)): cell for c, cell in cells.items()}
    rows = tuple((coat, tuple(at.get((coat, light), Cell()) for light in lights)) for coat in coats)
    moved = sum(1 for _, why in entries if why)
    return Coverage(tuple(lights), rows, len(entries) - moved, moved, len(cells) - len(entries))


def _light(conditions) -> tuple[str, str]:
    return conditions.lamp, conditions.film_process


def _coat(conditions) -> tuple[str, str, str]:
    return conditions.mesh, conditions.formula, conditions.emulsion


def _count(mesh: str) -> float:
    """The thread count a mesh's name begins with, so that 10 comes before 120."""
    digits = mesh.split("-")[0]
    return float(digits) if digits.replace(".", "", 1).isdigit() else 0.0
