"""What a backup says of itself: schema, counts, and a SHA-256 of each part, so that any change in it is seen."""

import hashlib
import json
import os
import sqlite3
from collections.abc import Mapping
from contextlib import closing
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

from frimble.core.conclusions import InvalidInput

FORMAT = 1
DATABASE, MANIFEST = "frimble.sqlite3", "manifest.json"


@dataclass(frozen=True)
class Manifest:
    """One backup.

    Attributes:
        format: of the backup itself. program: version that made it. made_at: ISO 8601, UTC.
        schema: the migrations its database has, as `app.name`. rows: by table. database: SHA-256 of its file.
        store: folder of the files, from the backup's own folder. files: SHA-256 by name below the media folder.
    """

    format: int
    program: str
    made_at: str
    schema: list[str]
    rows: Mapping[str, int]
    database: str
    store: str
    files: Mapping[str, str]

    @property
    def records(self) -> int:
        return sum(self.rows.values())

    def write(self, folder: Path) -> None:
        """Last of all and at one stroke: a backup without it is none."""
        half = folder / f"{MANIFEST}.half"
        with half.open("w") as file:
            json.dump(asdict(self), file, indent=1, sort_keys=True)
            file.flush()
            os.fsync(file.fileno())
        half.replace(folder / MANIFEST)

    @classmethod
    def read(cls, folder: Path) -> "Manifest":
        """Raises InvalidInput: there is none, or not one of this kind."""
        path = folder / MANIFEST
        if not path.is_file():
            raise InvalidInput(f"There is no backup in {folder}: it has no {MANIFEST}.", "folder")
        try:
            said: dict[str, Any] = json.loads(path.read_text())
            manifest = cls(**said)
        except (ValueError, TypeError, UnicodeDecodeError):
            raise InvalidInput(f"The {MANIFEST} in {folder} cannot be read.", "folder") from None
        if manifest.format != FORMAT:
            raise InvalidInput(f"The backup in {folder} is of kind {manifest.format}; kind {FORMAT} is read.", "folder")
        return manifest


def sha256(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def contents(database: Path) -> tuple[list[str], dict[str, int]]:
    """(migrations, rows by table) of a database file that holds together.

    Raises:
        InvalidInput: it is damaged, or not of this program.
    """
    try:
        with closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True)) as opened:
            answer = opened.execute("PRAGMA integrity_check").fetchone()[0]
            astray = opened.execute("PRAGMA foreign_key_check").fetchone()
            if answer != "ok" or astray:
                raise InvalidInput(f"{database} is damaged: {answer if answer != 'ok' else astray}.", "folder")
            tables = [n for (n,) in opened.execute("SELECT name FROM sqlite_master WHERE type = 'table' ORDER BY name")]
            if "django_migrations" not in tables or "people_person" not in tables:
                raise InvalidInput(f"{database} is no database of this program.", "folder")
            done = opened.execute("SELECT app || '.' || name FROM django_migrations ORDER BY 1")
            schema = [name for (name,) in done]
            rows = {n: opened.execute(f'SELECT COUNT(*) FROM "{n}"').fetchone()[0] for n in tables}  # noqa: S608
    except sqlite3.DatabaseError as error:
        raise InvalidInput(f"{database} cannot be read: {error}.", "folder") from None
    return schema, rows
