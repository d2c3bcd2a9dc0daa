"""Copies of the shop's database made while people work, checked before they are trusted, and put back."""

import shutil
import sqlite3
import tarfile
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path

from frimble.core.conclusions import InvalidInput

DATABASE, FILES = "frimble.sqlite3", "media.tar"


@dataclass(frozen=True)
class Backup:
    """One backup: its folder, and rows by table as they stood."""

    folder: Path
    rows: dict[str, int]

    @property
    def records(self) -> int:
        return sum(self.rows.values())


def back_up(database: Path, media: Path, folder: Path) -> Backup:
    """Copy database and files into a new folder and check the copy.

    SQLite's own online copy: it takes what was committed, whoever writes meanwhile.

    Raises:
        InvalidInput: the folder exists, there is no database, or the copy does not hold together.
    """
    if folder.exists():
        raise InvalidInput(f"{folder} exists already: a backup is never written over.", "folder")
    if not database.is_file():
        raise InvalidInput(f"There is no database at {database}.", "database")
    folder.mkdir(parents=True)
    try:
        with closing(_open(database)) as source, closing(sqlite3.connect(folder / DATABASE)) as copy:
            source.backup(copy)
            copy.execute("PRAGMA journal_mode = DELETE")
        if media.is_dir():
            with tarfile.open(folder / FILES, "w") as archive:
                archive.add(media, arcname="media")
        return check(folder)
    except BaseException:
        shutil.rmtree(folder)  # half a backup is worse than none
        raise


def check(folder: Path) -> Backup:
    """A backup that holds together.

    Raises:
        InvalidInput: no backup lies there, or it is damaged.
    """
    path = folder / DATABASE
    if not path.is_file():
        raise InvalidInput(f"There is no backup in {folder}.", "folder")
    try:
        with closing(_open(path)) as copy:
            answer = copy.execute("PRAGMA integrity_check").fetchone()[0]
            astray = copy.execute("PRAGMA foreign_key_check").fetchone()
            if answer != "ok" or astray:
                raise InvalidInput(
                    f"The backup in {folder} is damaged: {answer if answer != 'ok' else astray}.", "folder"
                )
            names = [n for (n,) in copy.execute("SELECT name FROM sqlite_master WHERE type = 'table' ORDER BY name")]
            rows = {n: copy.execute(f'SELECT COUNT(*) FROM "{n}"').fetchone()[0] for n in names}  # noqa: S608
    except sqlite3.DatabaseError as error:
        raise InvalidInput(f"The backup in {folder} cannot be read: {error}.", "folder") from None
    return Backup(folder, rows)


def restore(folder: Path, database: Path, media: Path, aside: Path) -> Backup:
    """Put a backup back; what stood there before is kept in `aside` as a backup of its own.

    To be done while the server is stopped.

    Raises:
        InvalidInput: the backup is damaged, or the present state cannot be put aside.
    """
    counts = check(folder)
    if database.is_file():
        back_up(database, media, aside)
    fresh = database.with_suffix(".restoring")
    shutil.copyfile(folder / DATABASE, fresh)
    for rest in ("-wal", "-shm"):
        database.with_name(database.name + rest).unlink(missing_ok=True)
    fresh.replace(database)
    if (folder / FILES).is_file():
        if media.is_dir():
            shutil.rmtree(media)
        with tarfile.open(folder / FILES) as archive:
            archive.extractall(media.parent, filter="data")
        if media.name != "media":
            (media.parent / "media").replace(media)
    return counts


def _open(path: Path) -> sqlite3.Connection:
    return sqlite3.connect(f"file:{path}?mode=ro", uri=True)
