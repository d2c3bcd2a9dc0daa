"""One server on one data folder: `serve` holds a lock, and what must not run beside it asks for it."""

import fcntl
import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from frimble.core.conclusions import RuleViolation


@contextmanager
def held(folder: Path) -> Iterator[None]:
    """Hold the folder's lock; the system lets go of it when the process ends, however it ends.

    Raises:
        RuleViolation: another process holds it.
    """
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    handle = os.open(folder / "serving.lock", os.O_RDWR | os.O_CREAT, 0o600)
    try:
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            raise RuleViolation(f"A server runs on {folder}: stop it first.") from None
        yield
    finally:
        os.close(handle)
