"""A data package into an empty shop, all of it or nothing; each bad cell is named with its file, row, column and rule."""

import csv
import io
import json
import zipfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass

from django.core.management.color import no_style
from django.db import IntegrityError, connection, models, transaction

from frimble.core.conclusions import InvalidInput
from frimble.exchange.packages import upgrades
from frimble.exchange.packages.cells import value_of
from frimble.exchange.packages.files import read_files
from frimble.exchange.packages.writing import fields_of, path_of, tables
from frimble.people.cached import changes
from frimble.people.models import HouseSetting, Person
from frimble.screens.ledger import summarize_lives

_MOST_TABLE, _MOST_TABLES = 300 * 2**20, 600 * 2**20
# What is written down when a room is set up gives way to what the package says of it.
_GIVES_WAY = (HouseSetting.history.model, HouseSetting, Person)
_AT_ONCE = 1000
# A cell of the shop is never so long; the module's own bound is lower.
_MOST_CELL = 10 * 2**20
# The tables' part of the work; the rest is what follows from them.
_TABLES_SHARE = 0.8

# Told how far it is, 0..1, and with what it goes on.
Tell = Callable[[float, str], None]


@dataclass(frozen=True)
class _Lead:
    """Whoever reads the package in stays able to sign in."""

    username: str
    first_name: str
    password: str


@dataclass(frozen=True)
class _Package:
    """A package of a version that can be read, with the tables that it holds."""

    archive: zipfile.ZipFile
    version: int
    held: list[type[models.Model]]

    def size(self, model: type[models.Model]) -> int:
        """Bytes of a table, unpacked."""
        return self.archive.getinfo(path_of(model, self.version)).file_size


def check_package(file) -> None:
    """What can be seen at once of a package and of the shop it is for.

    Raises:
        InvalidInput: not a package, one of another version, one too large, or a shop that is not empty.
    """
    _looked_at(file)


@transaction.atomic
def read_package(file, tell: Tell = lambda share, doing: None) -> dict[str, int]:
    """Read a package into an empty shop: rows by table. Its people come without passwords; the present leads stay in.

    Raises:
        InvalidInput: as `check_package`, or a value that does not fit; the table, row and column are named and nothing is
            kept.
    """
    package = _looked_at(file)
    with leads_kept():
        try:
            with connection.constraint_checks_disabled():
                counted = _read_tables(package, tell)
            connection.check_constraints()
        except IntegrityError as error:
            raise InvalidInput(f"A row points to one that is not there, or is there twice: {error}", "file") from None
        except zipfile.BadZipFile as error:
            raise InvalidInput(f"The package is damaged: {error}.", "file") from None
        tell(_TABLES_SHARE, "what each screen's records come to")
        summarize_lives()
    _set_sequences(package.held)
    changes.record(changes.EVERYTHING)
    read_files(package.archive, package.held)
    return counted


@contextmanager
def leads_kept() -> Iterator[None]:
    """What was written down when the room was set up goes; its leads come in again beside the people who are read."""
    leads = [_Lead(p.username, p.first_name, p.password) for p in Person.objects.filter(role="lead", is_active=True)]
    for model in _GIVES_WAY:
        model._base_manager.all().delete()
    yield
    _keep(leads)


def _looked_at(file) -> _Package:
    archive, version, paths = _opened(file)
    own_tables = tables()
    must_be_empty(own_tables)
    held = [m for m in own_tables if not upgrades.is_new_since(version, m._meta.label_lower)]
    missing = [m._meta.label for m in held if path_of(m, version) not in paths & set(archive.namelist())]
    if missing:
        raise InvalidInput(f"The package has no table {missing[0]}: it is from another version.", "file")
    _must_not_burst(archive)
    return _Package(archive, version, held)


def _opened(file) -> tuple[zipfile.ZipFile, int, set[str]]:
    try:
        archive = zipfile.ZipFile(file)
        said = archive.getinfo("datapackage.json")
        if said.file_size > _AT_ONCE * 10_000:
            raise ValueError("too large")
        description = json.loads(archive.read(said))
        paths = {r["path"] for r in description["resources"]}
        version = int(description.get("schema_version", 1))
    except (zipfile.BadZipFile, KeyError, ValueError, TypeError, AttributeError, RecursionError):
        raise InvalidInput("That is not a data package: a zip with datapackage.json is wanted.", "file") from None
    if version not in (*upgrades.UPGRADES, upgrades.CURRENT):
        raise InvalidInput(f"The package is of version {version}: this program reads up to {upgrades.CURRENT}.", "file")
    return archive, version, paths


def must_be_empty(found) -> None:
    """Refuse a shop that holds more than its settings and people.

    Raises:
        InvalidInput: one of the tables has a row.
    """
    for model in found:
        if model not in _GIVES_WAY and model._base_manager.exists():
            raise InvalidInput(
                f"The shop is not empty: {model._meta.verbose_name_plural} are there. Nothing was read.", "file"
            )


def _must_not_burst(archive: zipfile.ZipFile) -> None:
    """A small file may unpack to more than the machine holds."""
    sizes = [item.file_size for item in archive.infolist() if item.filename.startswith("data/")]
    if max(sizes, default=0) > _MOST_TABLE or sum(sizes) > _MOST_TABLES:
        raise InvalidInput(f"Its tables unpack to more than {_MOST_TABLES // 2**20} MB: no shop is so large.", "file")


def _read_tables(package: _Package, tell: Tell) -> dict[str, int]:
    counted, begun = {}, 0
    whole = max(1, sum(package.size(m) for m in package.held))
    for model in package.held:
        read = 0
        for read, byte in _read_table(model, package.archive, package.version):  # noqa: B007 - the last is how many
            tell(_TABLES_SHARE * (begun + byte) / whole, path_of(model, package.version))
        begun += package.size(model)
        counted[model._meta.label] = read
    return counted


def _read_table(model: type[models.Model], archive: zipfile.ZipFile, version: int) -> Iterator[tuple[int, int]]:
    """(rows written, bytes read) of a table after each part of it."""
    read, seen = 0, set()
    for made in _in_parts(_rows(model, archive, version), _AT_ONCE):
        for number, row, _ in made:
            if row.pk in seen:
                raise InvalidInput(f"{path_of(model, version)}, row {number}: {row.pk} is there twice.", "file")
            seen.add(row.pk)
        try:
            with transaction.atomic():
                model._base_manager.bulk_create([row for _, row, _ in made], batch_size=400)
        except IntegrityError as error:
            first, last = made[0][0], made[-1][0]
            raise InvalidInput(f"{path_of(model, version)}, rows {first} to {last}: {error}.", "file") from None
        read += len(made)
        yield read, made[-1][-1]


def _rows(model: type[models.Model], archive: zipfile.ZipFile, version: int) -> Iterator[tuple[int, models.Model, int]]:
    """Each row with its number in the file, read as it is unpacked, and how many bytes were."""
    name, fields = path_of(model, version), {f.attname: f for f in fields_of(model)}
    csv.field_size_limit(_MOST_CELL)
    with archive.open(name) as packed:
        lines = csv.reader(io.TextIOWrapper(packed, "utf-8", newline=""))
        try:
            headings = next(lines, [])
            today, _ = upgrades.upgraded(version, model._meta.label_lower, headings, [])
            if odd := sorted(set(today) ^ set(fields)):
                raise InvalidInput(f"{name}: column {odd[0]} does not fit this version.", "file")
            for number, row in enumerate(lines, start=2):
                if len(row) != len(headings):
                    raise InvalidInput(f"{name}, row {number}: {len(row)} cells for {len(headings)} columns.", "file")
                _, (cells,) = upgrades.upgraded(version, model._meta.label_lower, headings, [row])
                made = _made(model, fields, dict(zip(today, cells, strict=True)), f"{name}, row {number}")
                yield number, made, packed.tell()
        except UnicodeDecodeError:
            raise InvalidInput(f"{name} is not written in UTF-8.", "file") from None
        except csv.Error as error:
            raise InvalidInput(f"{name} cannot be read as CSV: {error}.", "file") from None


def _made(model: type[models.Model], fields, cells: dict[str, str], where: str) -> models.Model:
    values = {}
    for heading, text in cells.items():
        try:
            values[heading] = value_of(text, fields[heading])
        except ValueError as rule:
            raise InvalidInput(f"{where}, {heading}: “{text[:60]}” {rule}.", "file") from None
    row = model(**values)
    if isinstance(row, Person):
        row.set_unusable_password()
    return row


def _in_parts(rows, number: int) -> Iterator[list]:
    part = []
    for row in rows:
        part.append(row)
        if len(part) == number:
            yield part
            part = []
    if part:
        yield part


def _keep(leads: list[_Lead]) -> None:
    for lead in leads:
        person = Person.objects.filter(username=lead.username).first() or Person(username=lead.username)
        person.first_name = person.first_name or lead.first_name
        person.password, person.role, person.is_active = lead.password, Person.Role.LEAD, True
        person.save()


def _set_sequences(held) -> None:
    """A database that counts its rows by itself goes on after those that were read."""
    for statement in connection.ops.sequence_reset_sql(no_style(), held):
        with connection.cursor() as cursor:
            cursor.execute(statement)
