"""Databases made once a process and copied for each test that wants them: loading the made-up shop takes seconds."""

import sqlite3
from collections.abc import Callable
from typing import Any

from django.db import connection

_COPIES: dict[str, tuple[sqlite3.Connection, Any]] = {}


def kept_database(name: str, make: Callable[[], Any]) -> Any:
    """Fill the test's empty database with what `make` writes; what it returns.

    Args:
        name: of the content. make: called the first time, and its result given again later.

    Only for tests that commit: the copy replaces the file's pages under any transaction.
    """
    if name in _COPIES:
        copy, result = _COPIES[name]
        connection.ensure_connection()
        copy.backup(connection.connection)
        return result
    result = make()
    copy = sqlite3.connect(":memory:", check_same_thread=False)
    connection.connection.backup(copy)
    _COPIES[name] = copy, result
    return result
