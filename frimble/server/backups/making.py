"""A backup made while people work, and looked through before it counts."""

import os
import shutil
import sqlite3
from collections.abc import Iterator
from contextlib import closing
from datetime import UTC, datetime
from importlib.metadata import PackageNotFoundError, version
from pathlib import Path

from frimble.core.conclusions import InvalidInput
from frimble.server.backups.checking import check
from frimble.server.backups.manifest import DATABASE, FORMAT, Manifest, contents, sha256

_STORE = "files"
# Made again from the originals whenever they are wanted.
_CACHES = "unpacked"


def back_up(database: Path, media: Path, folder: Path, store: Path | None = None) -> Manifest:
    """Copy database and files into a new folder and check the copy.

    SQLite's own online copy: it takes what was committed, whoever writes meanwhile.

    Args:
        folder: of this backup; it must not exist. store: where files are kept once for all backups; by default this
            backup keeps its own.

    Raises:
        InvalidInput: the folder exists, there is no database, or the copy does not hold together.
    """
    if folder.exists():
        raise InvalidInput(f"{folder} exists already: a backup is never written over.", "folder")
    if not database.is_file():
        raise InvalidInput(f"There is no database at {database}.", "database")
    own = store or folder / _STORE
    folder.mkdir(parents=True, mode=0o700)
    try:
        _copy_database(database, folder / DATABASE)
        files = {name: _keep(path, own) for name, path in media_files(media)}
        schema, rows = contents(folder / DATABASE)
        made_at = datetime.now(UTC).isoformat(timespec="seconds")
        digest = sha256(folder / DATABASE)
        place = os.path.relpath(own, folder)
        Manifest(FORMAT, program(), made_at, schema, rows, digest, place, files).write(folder)
        return check(folder)
    except BaseException:
        shutil.rmtree(folder)  # half a backup is worse than none
        raise


def _copy_database(database: Path, to: Path) -> None:
    to.touch(mode=0o600)
    with (
        closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True)) as source,
        closing(sqlite3.connect(to)) as copy,
    ):
        source.backup(copy)
        copy.execute("PRAGMA journal_mode = DELETE")


def media_files(media: Path) -> Iterator[tuple[str, Path]]:
    """(name below the media folder, path) of every file that was uploaded or drawn, caches left out."""
    for path in sorted(media.rglob("*")):
        parts = path.relative_to(media).parts
        if path.is_file() and not path.is_symlink() and parts[0] != _CACHES:
            yield "/".join(parts), path


def _keep(path: Path, store: Path) -> str:
    """Put a file into the store under its SHA-256, once; the digest."""
    digest = sha256(path)
    kept = store / digest[:2] / digest
    if not kept.exists():
        kept.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        half = kept.with_suffix(".half")
        shutil.copyfile(path, half)
        half.chmod(0o600)
        half.replace(kept)
    return digest


def program() -> str:
    """The program's own version."""
    try:
        return version("frimble")
    except PackageNotFoundError:
        return "0.1.0"
