"""The exposure chart as one table: every coat in use against every light and film, calibrated, stale or only predicted."""

from dataclasses import dataclass
from typing import NamedTuple

from frimble.core.units import show_seconds
from frimble.exposures.chart.lines import ChartLine
from frimble.exposures.chart.prediction import UntestedCombination


class Cell(NamedTuple):
    """What the table says of one coat under one light through one film; nothing where it is not in use.

    Attributes:
        look: tested, tested and moved, or predicted. at: where on the chart its reasons stand.
        spoken: said before the time to those who cannot see the look. first: test this one before the others.
    """

    look: str = ""
    at: str = ""
    spoken: str = ""
    time: str = ""
    words: str = ""
    first: bool = False


@dataclass(frozen=True)
class Coverage:
    """Lights and films across, coats down, a cell for each pair; and how many hold, want another test, were never tested.

    Attributes:
        rows: (mesh, formula, emulsion, cells).
    """

    columns: tuple[tuple[str, str], ...]
    rows: tuple[tuple[str, str, str, tuple[Cell, ...]], ...]
    holding: int
    moved: int
    untested: int


def coverage(lines: list[ChartLine], pages: list[str], untested, teaches) -> Coverage:
    """The table of what is tested.

    Args:
        lines: each calibrated time in force. pages: the address of the page of the chart that each stands on.
        untested: as from `prediction.untested`. teaches: conditions of the test that would teach most.
    """
    cells = {u.conditions: _predicted(u, u.conditions == teaches) for u in untested}
    cells |= {line.entry.conditions: _tested(line, page) for line, page in zip(lines, pages, strict=True)}
    lights = sorted({_light(c) for c in cells})
    coats = sorted({_coat(c) for c in cells}, key=lambda coat: (_count(coat[0]), coat))
    at = {(_coat(c), _light(c)): cell for c, cell in cells.items()}
    rows = tuple((*coat, tuple(at.get((coat, light), Cell()) for light in lights)) for coat in coats)
    moved = sum(1 for line in lines if line.why_again)
    return Coverage(tuple(lights), rows, len(lines) - moved, moved, len(cells) - len(lines))


def _tested(line: ChartLine, page: str) -> Cell:
    look, words = ("tested moved", line.why_again) if line.why_again else ("tested", "calibrated")
    return Cell(look, f"{page}#time-{line.entry.pk}", "", show_seconds(line.entry.time_s), words)


def _predicted(combination: UntestedCombination, first: bool) -> Cell:
    time, found = combination.time, combination.found
    if time.refused:
        words = f"test, beginning around {show_seconds(found.middle_s.value)}"
        return Cell("predicted", "#untested", "", "not known", words, first)
    words = f"{show_seconds(time.low)} to {show_seconds(time.high)}"
    return Cell("predicted", "#untested", "never tested, predicted ", f"about {show_seconds(time.value)}", words, first)


def _light(conditions) -> tuple[str, str]:
    return conditions.lamp, conditions.film_process


def _coat(conditions) -> tuple[str, str, str]:
    return conditions.mesh, conditions.formula, conditions.emulsion


def _count(mesh: str) -> float:
    """The thread count a mesh's name begins with, so that 10 comes before 120."""
    digits = mesh.split("-")[0]
    return float(digits) if digits.replace(".", "", 1).isdigit() else 0.0
