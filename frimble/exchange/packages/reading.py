"""A data package into an empty shop, all of it or nothing."""

import json
import zipfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass

from django.core.management.color import no_style
from django.db import connection, transaction

from frimble.core.conclusions import InvalidInput
from frimble.exchange.packages import upgrades
from frimble.exchange.packages.files import read_files
from frimble.exchange.packages.rows import Package, read_tables
from frimble.exchange.packages.writing import path_of, tables
from frimble.people.cached import changes
from frimble.people.models import HouseSetting, Person
from frimble.screens.ledger import summarize_lives

_MOST_TABLE, _MOST_TABLES = 300 * 2**20, 600 * 2**20
# What is written down when a room is set up gives way to what the package says of it.
_GIVES_WAY = (HouseSetting.history.model, HouseSetting, Person)
_MOST_DESCRIBED = 10 * 2**20
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
        InvalidInput: as `check_package`. BadCells: values that do not fit. Nothing is kept then.
    """
    package = _looked_at(file)
    with leads_kept():
        try:
            with connection.constraint_checks_disabled():
                counted = read_tables(package, lambda share, doing: tell(_TABLES_SHARE * share, doing))
            connection.check_constraints()
        except zipfile.BadZipFile as error:
            raise InvalidInput(f"The package is damaged: {error}.", "file") from None
        tell(_TABLES_SHARE, "what each screen's records come to")
        try:
            summarize_lives()
        except KeyError as lacking:
            raise InvalidInput(
                f"A record lacks {lacking}, without which its screen's life is not told.", "file"
            ) from None
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


def _looked_at(file) -> Package:
    archive, version, paths = _opened(file)
    own_tables = tables()
    must_be_empty(own_tables)
    held = [m for m in own_tables if not upgrades.is_new_since(version, m._meta.label_lower)]
    missing = [m._meta.label for m in held if path_of(m, version) not in paths & set(archive.namelist())]
    if missing:
        raise InvalidInput(f"The package has no table {missing[0]}: it is from another version.", "file")
    _must_not_burst(archive)
    return Package(archive, version, held)


def _opened(file) -> tuple[zipfile.ZipFile, int, set[str]]:
    try:
        archive = zipfile.ZipFile(file)
        said = archive.getinfo("datapackage.json")
        if said.file_size > _MOST_DESCRIBED:
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
