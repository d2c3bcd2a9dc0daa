"""The rows of a package into the shop's tables; each bad cell is gathered with its file, row, column and rule."""

import csv
import io
import zipfile
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass

from django.core.exceptions import ValidationError
from django.db import Error, models, transaction

from frimble.core.conclusions import InvalidInput
from frimble.exchange.packages import upgrades
from frimble.exchange.packages.bad_cells import Gathered, Place
from frimble.exchange.packages.cells import value_of
from frimble.exchange.packages.writing import fields_of, path_of
from frimble.people.models import Person

_AT_ONCE, _A_STATEMENT = 1000, 400
# A cell of the shop is never so long; the module's own bound is lower.
_MOST_CELL = 10 * 2**20


@dataclass(frozen=True)
class Package:
    """A package of a version that can be read, with the tables that it holds."""

    archive: zipfile.ZipFile
    version: int
    held: list[type[models.Model]]

    def path(self, model: type[models.Model]) -> str:
        """Where a table lies in it."""
        return path_of(model, self.version)

    def size(self, model: type[models.Model]) -> int:
        """Bytes of a table, unpacked."""
        return self.archive.getinfo(self.path(model)).file_size


@dataclass(frozen=True)
class _Row:
    """A row that was read: where it stands, and how many bytes of its file were read."""

    place: Place
    made: models.Model
    byte: int


def read_tables(package: Package, tell: Callable[[float, str], None]) -> dict[str, int]:
    """Write every table of a package, those that are referred to first: how many rows, by table.

    Args:
        tell: is told how far it is, 0..1, and with which table it goes on.

    Raises:
        BadCells: values that do not fit, rows that are there twice or point to one that is not there.
        InvalidInput: a table cannot be read at all.
    """
    counted, begun, bad = {}, 0, Gathered()
    whole = max(1, sum(package.size(m) for m in package.held))
    for model in package.held:
        read = 0
        for read, byte in _read_table(model, package, bad):  # noqa: B007 - the last is how many
            tell((begun + byte) / whole, package.path(model))
        begun += package.size(model)
        counted[model._meta.label] = read
    bad.refuse()
    for model in package.held:
        _gather_astray(model, package, bad)
    bad.refuse()
    return counted


def _read_table(model: type[models.Model], package: Package, bad: Gathered) -> Iterator[tuple[int, int]]:
    """(rows read, bytes read) of a table after each part of it; nothing more is written once a cell was bad."""
    read, seen = 0, set()
    for part in _in_parts(_rows(model, package, bad), _AT_ONCE):
        for row in part:
            if row.made.pk in seen:
                row.place.bad(model._meta.pk.attname, str(row.made.pk), "is there twice")
            seen.add(row.made.pk)
        if not bad:
            _write(model, part)
        read += len(part)
        yield read, part[-1].byte


def _write(model: type[models.Model], part: list[_Row]) -> None:
    try:
        with transaction.atomic():
            model._base_manager.bulk_create([row.made for row in part], batch_size=_A_STATEMENT)
    except Error:
        # Once more one by one: which of them it was.
        for row in part:
            try:
                with transaction.atomic():
                    model._base_manager.bulk_create([row.made])
            except Error as error:
                row.place.bad("", "", f"the database refuses it: {str(error).splitlines()[0]}")


def _rows(model: type[models.Model], package: Package, bad: Gathered) -> Iterator[_Row]:
    """Each row whose cells all fit, read as it is unpacked."""
    name, fields = package.path(model), {f.attname: f for f in fields_of(model)}
    table, version = model._meta.label_lower, package.version
    csv.field_size_limit(_MOST_CELL)
    with package.archive.open(name) as packed:
        lines = csv.reader(io.TextIOWrapper(packed, "utf-8", newline=""))
        try:
            headings = next(lines, [])
            today, _ = upgrades.upgraded(version, table, headings, [])
            if odd := sorted(set(today) ^ set(fields)):
                raise InvalidInput(f"{name}: column {odd[0]} does not fit this version.", "file")
            for number, row in enumerate(lines, start=2):
                place = Place(name, number, bad)
                if len(row) != len(headings):
                    place.bad("", "", f"{len(row)} cells for {len(headings)} columns")
                    continue
                _, (cells,) = upgrades.upgraded(version, table, headings, [row])
                values = _values(fields, zip(today, cells, strict=True), place)
                if values is not None and (made := _made(model, values, place)):
                    yield _Row(place, made, packed.tell())
        except UnicodeDecodeError:
            raise InvalidInput(f"{name} is not written in UTF-8.", "file") from None
        except csv.Error as error:
            raise InvalidInput(f"{name} cannot be read as CSV: {error}.", "file") from None


def _values(fields: dict[str, models.Field], cells: Iterable[tuple[str, str]], place: Place) -> dict | None:
    """What the cells of a row hold; None where one of them does not fit."""
    values, fit = {}, True
    for heading, text in cells:
        try:
            values[heading] = value_of(text, fields[heading])
        except ValueError as rule:
            place.bad(heading, text, str(rule))
            fit = False
    return values if fit else None


def _made(model: type[models.Model], values: dict, place: Place) -> models.Model | None:
    """A row whose cells go together; None where they do not."""
    row = model(**values)
    if isinstance(row, Person):
        row.set_unusable_password()
    try:
        row.clean()
    except ValidationError as error:
        for column, messages in error.message_dict.items():
            place.bad(column, str(getattr(row, column, "")), f"breaks a rule: {messages[0]}")
        return None
    return row


def _gather_astray(model: type[models.Model], package: Package, bad: Gathered) -> None:
    """Rows that point to one that is not there."""
    for field in fields_of(model):
        # What only its history keeps may be gone.
        if not field.is_relation or not field.db_constraint:
            continue
        there = field.related_model._base_manager.filter(**{field.target_field.attname: models.OuterRef(field.attname)})
        astray = model._base_manager.exclude(**{field.attname: None}).exclude(models.Exists(there))
        # In no order: some are ordered by what they point to.
        values = dict(astray.order_by().values_list("pk", field.attname))
        places = _places(model, package, set(values), bad) if values else {}
        for pk, value in values.items():
            places[pk].bad(field.attname, str(value), "points to one that is not there")


def _places(model: type[models.Model], package: Package, keys: set, bad: Gathered) -> dict:
    """Where each of these keys stands: the file is read once more."""
    return {row.made.pk: row.place for row in _rows(model, package, bad) if row.made.pk in keys}


def _in_parts(rows: Iterable[_Row], number: int) -> Iterator[list[_Row]]:
    part = []
    for row in rows:
        part.append(row)
        if len(part) == number:
            yield part
            part = []
    if part:
        yield part
