"""What a shop's messy list means: which column is what, and each cell as a value or an error with its reason."""

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime

from frimble.core.conclusions import InvalidInput, require_between
from frimble.core.mesh import geometry as rules
from frimble.core.tension.measurement import check_reading
from frimble.core.units import read_quantity

# Headings people use, most telling first; a column is matched to one field at most.
FIELDS = {
    "code": ("Code", ("code", "screen", "frame no", "number", "no", "id", "label")),
    "mesh": ("Mesh", ("mesh", "count", "fabric", "cloth")),
    "thread": ("Thread, µm", ("thread", "diameter")),
    "colour": ("Thread colour", ("colour", "color")),
    "size": ("Size, both sides", ("size", "dimensions", "frame size", "outer")),
    "width": ("Outer width", ("width", "breadth", "w")),
    "height": ("Outer height", ("height", "length", "h", "l")),
    "kind": ("Frame kind", ("kind", "material", "frame", "type")),
    "tension": ("Tension, N/cm", ("tension", "n/cm", "newton")),
    "measured": ("Measured on", ("measured", "tension date", "checked", "date")),
    "mounted": ("Mounted on", ("mounted", "stretched", "new mesh", "since")),
    "slot": ("Slot", ("slot", "place", "rack", "where", "location")),
}
UNITS = {"mm": "mm", "cm": "cm", "in": "inches"}
COUNTS = {"ask": "say which is which", "in": "per inch", "cm": "per cm"}
DATES = {"day": "day first", "month": "month first"}
_KINDS = (
    ("roller", ("roller", "roll", "retension", "re-tension")), ("draw_bar", ("draw", "bar")), ("wood", ("wood", "timber")),
    ("aluminium", ("alu", "alum", "metal", "")),
)  # fmt: skip
_CODE = re.compile(r"^[A-Z0-9][A-Z0-9-]*$")
_DOTTED = re.compile(r"^(\d{1,4})[./-](\d{1,2})[./-](\d{1,4})$")


@dataclass(frozen=True)
class Error:
    """One cell that cannot be taken: its row as counted in the file, column, value, and why."""

    row: int
    column: str
    value: str
    reason: str


@dataclass
class Row:
    """One screen of the list as it will be made."""

    number: int
    code: str = ""
    count_per_cm: float = 0.0
    thread_um: float = 0.0
    colour: str = "white"
    width_mm: float = 0.0
    height_mm: float = 0.0
    kind: str = "aluminium"
    tension: float | None = None
    measured: date | None = None
    mounted: date | None = None
    slot: str = ""


@dataclass(frozen=True)
class Choices:
    """What the file does not say of itself: which column is which field, the unit of bare sizes and mesh counts, dates."""

    columns: Mapping[str, int]
    unit: str = "cm"
    counts: str = "ask"
    dates: str = "day"


@dataclass(frozen=True)
class InShop:
    """What of a list stands in the shop: codes that exist, and who is in each slot by its code, "" for free ones."""

    codes: frozenset[str]
    slots: Mapping[str, str]


@dataclass
class DryRun:
    """What would be made, and every reason why it is not."""

    rows: list[Row] = field(default_factory=list)
    errors: list[Error] = field(default_factory=list)


def guess_columns(headings: Sequence[str]) -> dict[str, int]:
    """Column by field: whole headings first, then those that contain a telling word."""
    plain = [re.sub(r"[^a-z/ ]", "", h.lower()).strip() for h in headings]
    columns: dict[str, int] = {}
    for whole in (True, False):
        for name, (_, words) in FIELDS.items():
            for word in words:
                hits = [k for k, h in enumerate(plain) if k not in columns.values() and _matches(word, h, whole)]
                if name not in columns and hits:
                    columns[name] = hits[0]
    return columns


def _matches(word: str, heading: str, whole: bool) -> bool:
    if whole:
        return heading == word
    return len(word) > 2 and re.search(rf"\b{re.escape(word)}", heading) is not None


def guess_unit(rows: Sequence[Sequence[str]], columns: Mapping[str, int]) -> str:
    """The unit that bare sizes are in, from how large they are: frames are some 30 to 200 cm."""
    sizes = []
    for row in rows[:200]:
        for name in ("size", "width", "height"):
            if name in columns:
                sizes += [float(n.replace(",", ".")) for n in re.findall(r"\d+(?:[.,]\d+)?", row[columns[name]])]
    if not sizes:
        return "cm"
    middle = sorted(sizes)[len(sizes) // 2]
    return "mm" if middle > 250 else "in" if middle < 45 else "cm"


def guess_dates(rows: Sequence[Sequence[str]], columns: Mapping[str, int]) -> str:
    """Whether months come first in dates with slashes: they do where a second number is beyond 12."""
    for row in rows[:500]:
        for name in ("measured", "mounted"):
            match = _DOTTED.match(row[columns[name]].strip()) if name in columns and "/" in row[columns[name]] else None
            if match and len(match[1]) < 3 and max(int(match[1]), int(match[2])) > 12:
                return "month" if int(match[2]) > 12 else "day"
    return "day"


def dry_run(
    headings: Sequence[str],
    rows: Sequence[Sequence[str]],
    choices: Choices,
    look_up: Callable[[Sequence[Row]], InShop],
    today,
    settings: Mapping,
) -> DryRun:
    """Read every row; nothing is stored.

    Args:
        look_up: what of the rows stands in the shop, asked once, when all are read.
    """
    run = DryRun()
    reader = _Reader(headings, choices, today, settings, run.errors)
    run.rows = [reader.read(number, cells) for number, cells in enumerate(rows, start=2)]
    _check_own(run.rows, rows, reader, look_up(run.rows))
    run.errors.sort(key=lambda error: error.row)
    return run


def _check_own(rows, cells_of_rows, reader, shop: InShop) -> None:
    """Codes and places belong to one screen each, in the shop and in the list."""
    codes: dict[str, int] = {}
    places: dict[str, int] = {}
    for row, cells in zip(rows, cells_of_rows, strict=True):
        if row.code:
            if row.code in shop.codes:
                reader.fault(row, "code", cells, f"{row.code} exists already in the shop.")
            if row.code in codes:
                reader.fault(row, "code", cells, f"{row.code} stands in row {codes[row.code]} too.")
            codes.setdefault(row.code, row.number)
        if row.slot:
            if row.slot not in shop.slots:
                reader.fault(row, "slot", cells, "No slot is called so. Define the rack first, or leave it empty.")
            elif shop.slots[row.slot]:
                reader.fault(row, "slot", cells, f"Slot {row.slot} holds {shop.slots[row.slot]}.")
            elif row.slot in places:
                reader.fault(row, "slot", cells, f"Slot {row.slot} is given to row {places[row.slot]} too.")
            places.setdefault(row.slot, row.number)


class _Reader:
    """Reads cells by the choices made, and collects what cannot be read."""

    def __init__(self, headings, choices: Choices, today, settings, errors):
        self.headings, self.choices, self.today = headings, choices, today
        self.house_settings, self.errors = settings, errors

    def read(self, number: int, cells: Sequence[str]) -> Row:
        row, before = Row(number), len(self.errors)
        for name in (
            "code",
            "mesh",
            "colour",
            "size",
            "width",
            "height",
            "kind",
            "tension",
            "measured",
            "mounted",
            "slot",
        ):
            text = self.cell(name, cells)
            if text:
                try:
                    getattr(self, f"_{name}")(row, text, cells)
                except InvalidInput as error:
                    self.fault(row, name, cells, str(error))
        for name, missing in (("code", not row.code), ("mesh", not row.count_per_cm), ("size", not row.width_mm)):
            if missing and not any(e.column == self.column(name) for e in self.errors[before:]):
                self.fault(row, name, cells, "Missing.")
        self._check(row, cells)
        return row

    def cell(self, name, cells) -> str:
        column = self.choices.columns.get(name)
        return cells[column].strip() if column is not None and column < len(cells) else ""

    def column(self, name) -> str:
        at = self.choices.columns.get(name, self.choices.columns.get("width") if name == "size" else None)
        return self.headings[at] if at is not None else FIELDS[name][0]

    def fault(self, row, name, cells, reason) -> None:
        self.errors.append(Error(row.number, self.column(name), self.cell(name, cells), reason))

    def _check(self, row, cells) -> None:
        if row.measured and row.mounted and row.measured < row.mounted:
            self.fault(row, "measured", cells, "Measured before its mesh was mounted.")
        low, high = self.house_settings["frame.least_mm"], self.house_settings["frame.most_mm"]
        for value, name in ((row.width_mm, "width"), (row.height_mm, "height")):
            if value and not low <= value <= high:
                at = name if name in self.choices.columns else "size"
                self.fault(
                    row, at, cells, f"{value:.0f} mm is no frame's side, {low:g} to {high:g} mm. Is the unit right?"
                )

    def _code(self, row, text, cells):
        code = re.sub(r"\s+", "-", text.upper())
        if not _CODE.match(code) or len(code) > 16:
            raise InvalidInput("Letters, digits and dashes only, up to 16.")
        row.code = code

    def _mesh(self, row, text, cells):
        spec = rules.parse_mesh(self._with_unit(text), self.house_settings)
        if isinstance(spec, rules.Ambiguous):
            raise InvalidInput(f"{spec.question} Choose for bare counts above, or write it out.")
        row.count_per_cm = spec.count_per_cm
        row.colour = spec.colour or row.colour
        thread = spec.thread_um or self._thread(row, cells)
        if thread is None:
            thread = self._usual_thread(spec.count_per_cm)
        if thread is None:
            raise InvalidInput(
                "Its thread diameter is not told and the usual meshes have several or none of this count."
            )
        rules.geometry(spec.count_per_cm, thread, self.house_settings)
        row.thread_um = thread

    def _with_unit(self, text: str) -> str:
        """A bare count, with T or without, gets the unit that was chosen for all."""
        bare = re.fullmatch(r"(\d+(?:[.,]\d+)?)\s*[Tt]?", text)
        return f"{bare[1]}/{self.choices.counts}" if bare and self.choices.counts != "ask" else text

    def _thread(self, row, cells):
        text = self.cell("thread", cells)
        if not text:
            return None
        return require_between(read_quantity(text, "µm"), 10, 1000, "A thread, in µm,", "thread")

    def _usual_thread(self, count_per_cm):
        fits = {um for _, cm, um in rules.USUAL_MESHES if abs(cm - count_per_cm) < 0.6}
        return float(fits.pop()) if len(fits) == 1 else None

    def _colour(self, row, text, cells):
        initial = text[0].lower()
        if initial not in "wynog":
            raise InvalidInput("White or yellow.")
        row.colour = "white" if initial in "wn" else "yellow"

    def _size(self, row, text, cells):
        sides = re.split(r"\s*[x×*]\s*", text.lower().strip())
        if len(sides) != 2:
            raise InvalidInput("Two sides are wanted, such as 58 x 79 cm.")
        unit = "".join(c for c in sides[1] if c.isalpha() or c in "\"'")
        row.width_mm = self._length(sides[0] if re.search(r"[a-z\"]", sides[0]) else sides[0] + unit)
        row.height_mm = self._length(sides[1])

    def _width(self, row, text, cells):
        row.width_mm = self._length(text)

    def _height(self, row, text, cells):
        row.height_mm = self._length(text)

    def _length(self, text: str) -> float:
        bare = re.fullmatch(r"\s*\d+(?:[.,]\d+)?\s*", text)
        return read_quantity(f"{text.strip()} {self.choices.unit}" if bare else text, "mm")

    def _kind(self, row, text, cells):
        low = text.lower()
        row.kind = next((kind for kind, words in _KINDS if any(w and w in low for w in words)), "")
        if not row.kind:
            row.kind = "aluminium"
            raise InvalidInput("Aluminium, roller, draw-bar or wood.")

    def _tension(self, row, text, cells):
        number = re.sub(r"(?i)\s*n\s*(/\s*cm)?\s*$", "", text).replace(",", ".")
        try:
            row.tension = check_reading(float(number), self.house_settings)
        except ValueError as error:
            raise (
                error if isinstance(error, InvalidInput) else InvalidInput("Not a tension such as 23.5 N/cm.")
            ) from None

    def _measured(self, row, text, cells):
        row.measured = self._date(text)

    def _mounted(self, row, text, cells):
        row.mounted = self._date(text)

    def _date(self, text: str) -> date:
        """2026-03-14, 14.3.2026, 14/03/2026 or, when months come first, 3/14/2026."""
        match = _DOTTED.match(text.strip()[:10].strip())
        if not match:
            raise InvalidInput("Not a date such as 2026-03-14 or 14.3.2026.")
        a, b, c = match.groups()
        if len(a) == 4:
            year, month, day = int(a), int(b), int(c)
        else:
            first, second, year = int(a), int(b), int(c) + (2000 if len(c) == 2 else 0)
            month_first = self.choices.dates == "month" and "." not in text
            month, day = (first, second) if month_first else (second, first)
        try:
            day_read = date(year, month, day)
        except ValueError:
            order = DATES[self.choices.dates]
            raise InvalidInput(
                f"There is no such day, {order}. Choose above how dates with slashes are meant."
            ) from None
        today = self.today.date() if isinstance(self.today, datetime) else self.today
        if day_read > today:
            raise InvalidInput("That lies in the future.")
        if day_read.year < 1950:
            raise InvalidInput("So long ago there was no such screen.")
        return day_read

    def _slot(self, row, text, cells):
        row.slot = text.upper()
