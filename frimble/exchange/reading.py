"""Rows out of a file that people hand in: CSV in whatever coding and separator, or XLSX."""

import csv
import io
import zipfile
from dataclasses import dataclass

from frimble.core.conclusions import InvalidInput

MOST_ROWS = 20_000
MOST_COLUMNS = 80
_MOST_CELL = 400
_MOST_UNPACKED = 150 * 2**20
_BOMS = ((b"\xef\xbb\xbf", "utf-8-sig"), (b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16"))


@dataclass(frozen=True)
class Table:
    """What a file holds: its headings, its rows as text, and what was taken for granted."""

    headings: list[str]
    rows: list[list[str]]
    notes: list[str]


def read_table(data: bytes) -> Table:
    """The first table of a file.

    Raises:
        InvalidInput: neither CSV nor XLSX, no heading, or too many rows or columns.
    """
    notes: list[str] = []
    rows = _from_xlsx(data, notes) if data.startswith(b"PK\x03\x04") else _from_csv(data, notes)
    rows = [row for row in rows if any(cell for cell in row)]
    if len(rows) < 2:
        raise InvalidInput("The list is empty: a row of headings and at least one screen are wanted.", "file")
    width = max(len(row) for row in rows)
    if width > MOST_COLUMNS:
        raise InvalidInput(f"{width} columns are more than {MOST_COLUMNS}: is it the right file?", "file")
    rows = [row + [""] * (width - len(row)) for row in rows]
    return Table(rows[0], rows[1:], notes)


def _from_csv(data: bytes, notes: list[str]) -> list[list[str]]:
    text = _decoded(data, notes)
    if "\0" in text:
        raise InvalidInput("That is neither a CSV nor an XLSX file.", "file")
    head = text[:4000].split("\n", 1)[0]
    separator = max(";,\t", key=head.count)
    if separator != ",":
        notes.append(f"Separated by {'tabs' if separator == chr(9) else 'semicolons'}.")
    try:
        return _limited(csv.reader(io.StringIO(text), delimiter=separator))
    except csv.Error as error:
        raise InvalidInput(f"The CSV cannot be read: {error}.", "file") from None


def _decoded(data: bytes, notes: list[str]) -> str:
    for mark, coding in _BOMS:
        if data.startswith(mark):
            return data.decode(coding, errors="replace")
    try:
        return data.decode("utf-8")
    except UnicodeDecodeError:
        notes.append("Not in UTF-8: read as Windows Western. Look at accented letters.")
        return data.decode("cp1252", errors="replace")


def _limited(rows) -> list[list[str]]:
    taken = []
    for row in rows:
        if len(taken) > MOST_ROWS:
            raise InvalidInput(f"The list has more than {MOST_ROWS} rows: bring it in parts.", "file")
        cells = [_cell(value) for value in row]
        # A sheet is as wide as its widest row ever was.
        while cells and not cells[-1]:
            cells.pop()
        taken.append(cells)
    return taken


def _cell(value) -> str:
    if value is None:
        return ""
    if hasattr(value, "isoformat"):
        return value.isoformat()[:10]
    text = f"{value:g}" if isinstance(value, float) else str(value)
    return text.strip()[:_MOST_CELL]


def _must_not_burst(data: bytes) -> None:
    """A small file may unpack to more than the machine holds."""
    with zipfile.ZipFile(io.BytesIO(data)) as packed:
        if sum(part.file_size for part in packed.infolist()) > _MOST_UNPACKED:
            raise InvalidInput(f"It unpacks to more than {_MOST_UNPACKED // 2**20} MB: is it the right file?", "file")


def _from_xlsx(data: bytes, notes: list[str]) -> list[list[str]]:
    from openpyxl import load_workbook

    try:
        _must_not_burst(data)
        book = load_workbook(io.BytesIO(data), read_only=True, data_only=True)
        sheet = book.worksheets[0]
        rows = _limited(sheet.iter_rows(values_only=True, max_row=MOST_ROWS + 2, max_col=MOST_COLUMNS + 1))
    except InvalidInput:
        raise
    except Exception as error:  # openpyxl lets many kinds through from a damaged file
        raise InvalidInput("The XLSX cannot be read: it is damaged.", "file") from error
    if len(book.worksheets) > 1:
        notes.append(f"{len(book.worksheets)} sheets: the first was read.")
    return rows
