"""The log's file: opened with its first line, turned over before it grows large."""

from logging.handlers import RotatingFileHandler
from pathlib import Path

_MOST_BYTES = 2 * 2**20
_KEPT = 5


def rotating(path: Path) -> RotatingFileHandler:
    """A handler for `path`, with five older files beside it."""
    path.parent.mkdir(parents=True, exist_ok=True)
    return RotatingFileHandler(path, maxBytes=_MOST_BYTES, backupCount=_KEPT, encoding="utf-8", delay=True)
