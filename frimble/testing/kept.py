"""Shops made once a run and copied for each test that wants them: loading the made-up shop takes seconds."""

import fcntl
import os
import pickle
import shutil
import sqlite3
from collections.abc import Callable
from contextlib import closing
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import connection
from django.test import override_settings

# The run's own folder, which its processes share; the runner makes it.
FOLDER = "FRIMBLE_TEST_KEPT"


def kept_database(name: str, make: Callable[[], Any]) -> Any:
    """Fill the test's empty database and its folder of files with what `make` writes; what it returns.

    Args:
        name: of the content. make: called by the first process of the run that asks; its result is given to all later.

    Only for tests that commit: the copy replaces the file's pages under any transaction.
    """
    folder = Path(os.environ[FOLDER])
    kept, told, media = (folder / f"{name}.{part}" for part in ("sqlite3", "pickle", "media"))
    with (folder / f"{name}.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if told.exists():
            connection.ensure_connection()
            with closing(sqlite3.connect(kept)) as copy:
                copy.backup(connection.connection)
        else:
            media.mkdir()
            with override_settings(MEDIA_ROOT=str(media)):
                result = make()
            copy_database(kept)
            told.write_bytes(pickle.dumps(result))
        shutil.copytree(media, settings.MEDIA_ROOT, dirs_exist_ok=True)
        return pickle.loads(told.read_bytes())  # noqa: S301 - written by this run


def copy_database(path: Path) -> None:
    """The test's database as it is now, into a new file."""
    with closing(sqlite3.connect(path)) as copy:
        connection.connection.backup(copy)
