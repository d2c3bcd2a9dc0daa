"""Cells of a package that break a rule: each is told with where it stands, up to so many."""

from dataclasses import asdict, dataclass
from typing import Any

from frimble.core.conclusions import InvalidInput

MOST_TOLD = 200
_SHOWN = 60


@dataclass(frozen=True)
class BadCell:
    """One of them.

    Attributes:
        file: its path in the package. row: its number there, the headings being 1. column: empty for a whole row.
        value: how it is written, its first characters. reason: why it does not fit.
    """

    file: str
    row: int
    column: str
    value: str
    reason: str

    def __str__(self) -> str:
        where = f"{self.file}, row {self.row}" + (f", {self.column}" if self.column else "")
        return f"{where}: {f'“{self.value[:_SHOWN]}” ' if self.value else ''}{self.reason.rstrip('.')}."


class BadCells(InvalidInput):
    """A package with some of them; the first is told, and how many there are.

    Attributes:
        cells: in their order. all_told: whether there are no more.
    """

    def __init__(self, cells: list[BadCell], all_told: bool = True) -> None:
        self.cells, self.all_told = tuple(cells), all_told
        more = len(cells) - 1
        super().__init__(f"{cells[0]}{f' And {more} more.' if more else ''}", "file")

    def as_json(self) -> dict[str, Any]:
        """For a process or a row that keeps them."""
        cells = [asdict(cell) | {"value": cell.value[:_SHOWN]} for cell in self.cells]
        return {"cells": cells, "all_told": self.all_told}

    @classmethod
    def from_json(cls, kept: dict[str, Any]) -> "BadCells":
        return cls([BadCell(**cell) for cell in kept["cells"]], kept["all_told"])


class Gathered:
    """Those found so far.

    Attributes:
        cells: in their order.
    """

    def __init__(self) -> None:
        self.cells: list[BadCell] = []

    def __bool__(self) -> bool:
        return bool(self.cells)

    def add(self, cell: BadCell) -> None:
        """One more.

        Raises:
            BadCells: there are enough of them.
        """
        self.cells.append(cell)
        if len(self.cells) == MOST_TOLD:
            raise BadCells(self.cells, all_told=False)

    def refuse(self) -> None:
        """End the reading where there are any.

        Raises:
            BadCells: there are.
        """
        if self.cells:
            raise BadCells(self.cells)


@dataclass(frozen=True)
class Place:
    """A row of a file, for what is found bad in it."""

    file: str
    row: int
    gathered: Gathered

    def bad(self, column: str, value: str, reason: str) -> None:
        """Gather one of its cells; the whole row where no column is named.

        Raises:
            BadCells: there are enough of them.
        """
        self.gathered.add(BadCell(self.file, self.row, column, value, reason))
