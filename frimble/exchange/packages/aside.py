"""A data package read into a shop of its own first: the room's database is held for some seconds, not for minutes.

SQLite alone: PostgreSQL lets others write while a long transaction goes on.
"""

import json
import os
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from django.conf import settings
from django.db import connection, models, transaction

from frimble.core.conclusions import InvalidInput
from frimble.exchange.packages.bad_cells import BadCells
from frimble.exchange.packages.reading import Tell, leads_kept, must_be_empty
from frimble.exchange.packages.writing import tables
from frimble.people.cached import changes

_FOLDERS, _DATABASE = "package-", "frimble.sqlite3"
# What a command says when it is refused begins with this.
_REFUSED = "CommandError: "
_COPYING = 0.97


class BrokenOff(Exception):
    """The process that read the package ended without an answer."""


def read_aside(package: Path, tell: Tell) -> int:
    """Read a package into this empty shop; how many records it took over.

    Raises:
        InvalidInput: as `reading.read_package`. BrokenOff: the process that read it was killed or failed.
    """
    # On the disk of the shop, where its files are only renamed.
    with tempfile.TemporaryDirectory(prefix=_FOLDERS, dir=settings.VAR_DIR) as made:
        folder = Path(made)
        _read_in_own_process(folder, package, tell)
        tell(_COPYING, "taking it over")
        with _files_moved(folder / "media"):
            return _copied(folder / _DATABASE)


def clear_left() -> None:
    """Remove what a killed worker left of a package half read."""
    for folder in settings.VAR_DIR.glob(f"{_FOLDERS}*"):
        shutil.rmtree(folder, ignore_errors=True)


def _read_in_own_process(folder: Path, package: Path, tell: Tell) -> None:
    # This shop is empty, so a copy of it is an empty shop.
    with connection.cursor() as cursor:
        cursor.execute("VACUUM INTO %s", [str(folder / _DATABASE)])
    environment = {k: v for k, v in os.environ.items() if k != "DATABASE_URL"} | {"FRIMBLE_VAR": str(folder)}
    command = [sys.executable, str(settings.BASE_DIR / "manage.py"), "read_package", str(package)]
    with (
        tempfile.TemporaryFile("w+") as errors,
        subprocess.Popen(  # noqa: S603 - our own command
            command, env=environment, stdout=subprocess.PIPE, stderr=errors, text=True
        ) as reading,
    ):
        bad = None
        for line in reading.stdout or ():
            if line.startswith("{"):
                bad = BadCells.from_json(json.loads(line))
                continue
            share, _, doing = line.strip().partition(" ")
            tell(_COPYING * float(share), doing)
        if reading.wait() == 0:
            return
        if bad:
            raise bad
        errors.seek(0)
        said = errors.read().strip().rpartition("\n")[2]
    if said.startswith(_REFUSED):
        raise InvalidInput(said.removeprefix(_REFUSED), "file")
    raise BrokenOff(said)


@contextmanager
def _files_moved(media: Path) -> Iterator[None]:
    """The files of the shop that was read, in this one; none of them where the rest fails."""
    moved = []
    try:
        for file in (f for f in media.rglob("*") if f.is_file()):
            to = Path(settings.MEDIA_ROOT) / file.relative_to(media)
            to.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
            shutil.move(file, to)
            moved.append(to)
        yield
    except BaseException:
        for file in moved:
            file.unlink(missing_ok=True)
        raise


def _copied(database: Path) -> int:
    """Every table of another database, in one transaction; how many rows."""
    own = tables()
    with _attached(database), connection.constraint_checks_disabled(), transaction.atomic():
        must_be_empty(own)
        with leads_kept():
            copied = sum(_copy(model) for model in own)
        connection.check_constraints()
        changes.record(changes.EVERYTHING)
    return copied


@contextmanager
def _attached(database: Path) -> Iterator[None]:
    with connection.cursor() as cursor:
        cursor.execute("ATTACH DATABASE %s AS aside", [str(database)])
    try:
        yield
    finally:
        with connection.cursor() as cursor:
            cursor.execute("DETACH DATABASE aside")


def _copy(model: type[models.Model]) -> int:
    name = connection.ops.quote_name
    table = name(model._meta.db_table)
    columns = ", ".join(name(f.column) for f in model._meta.concrete_fields)
    with connection.cursor() as cursor:
        cursor.execute(f"INSERT INTO main.{table} ({columns}) SELECT {columns} FROM aside.{table}")  # noqa: S608 - names of ours
        return cursor.rowcount
