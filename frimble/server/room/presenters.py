"""How the room's server stands: backups, disk, database, worker."""

import shutil
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from django.conf import settings
from django.db import connection
from django.utils import timezone

from frimble.core.numbers import counted
from frimble.server import health
from frimble.server.backups import keeping, timer
from frimble.server.backups.making import program

_LEAST_FREE = 2**30


@dataclass(frozen=True)
class BackupRow:
    """One backup that the clock made."""

    made_at: datetime
    records: int
    files: int
    program: str


@dataclass(frozen=True)
class Fact:
    """One line: what, how it stands, whether somebody has to do something, and what."""

    name: str
    words: str
    due: bool = False


def backups() -> list[BackupRow]:
    return [
        BackupRow(kept.made_at.astimezone(), kept.manifest.records, len(kept.manifest.files), kept.manifest.program)
        for kept in keeping.found(timer.root())
    ]


def facts() -> list[Fact]:
    return [_backup(), _disk(), _worker(), _database()]


def overdue() -> Fact | None:
    """The last backup, when one is overdue."""
    fact = _backup()
    return fact if fact.due else None


def _backup() -> Fact:
    made_at, late = timer.state(datetime.now())
    if not timer.is_possible():
        return Fact("Backup", "This database is no file: back it up with its own tools, such as pg_dump.")
    if made_at is None:
        return Fact("Backup", "None yet: the clock makes the first within a minute of serving.", late)
    when = f"{timezone.localtime(made_at.astimezone()):%-d %B, %H:%M}"
    words = f"The last good one is of {when}, looked through after it was made."
    return Fact("Backup", f"{words} It is overdue: see the log." if late else words, late)


def _disk() -> Fact:
    free = shutil.disk_usage(settings.VAR_DIR).free
    words = f"{free / 2**30:.1f} GB free in the data folder."
    return Fact(
        "Disk", f"{words} Make room: records stop when it is full." if free < _LEAST_FREE else words, free < _LEAST_FREE
    )


def _worker() -> Fact:
    if health.worker is None:
        return Fact("Worker", "Not watched here: another server runs these pages.")
    alive = health.worker.alive
    return Fact("Worker", "Runs: scans are checked." if alive else "Has ended and is started again.", not alive)


def _database() -> Fact:
    if connection.vendor != "sqlite":
        return Fact("Database", f"{connection.vendor}.")
    size = Path(connection.settings_dict["NAME"]).stat().st_size / 2**20
    tables = len(connection.introspection.table_names())
    return Fact("Database", f"{size:.1f} MB in {counted(tables, 'table')}; version {program()}.")
