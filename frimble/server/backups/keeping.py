"""Which backups stay: hourly, daily and weekly ones, and the files that some backup still names."""

from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from frimble.core.conclusions import InvalidInput
from frimble.server.backups.manifest import Manifest

NAME = "%Y-%m-%d-%H%M%S"


@dataclass(frozen=True)
class Kept:
    """A backup that the timer made."""

    folder: Path
    made_at: datetime
    manifest: Manifest


def found(root: Path) -> list[Kept]:
    """The timer's backups, the newest first; what is no backup is left out."""
    result = []
    for folder in root.glob("*/") if root.is_dir() else ():
        try:
            made_at = datetime.strptime(folder.name, NAME)
            result.append(Kept(folder, made_at, Manifest.read(folder)))
        except (ValueError, InvalidInput):
            continue
    return sorted(result, key=lambda kept: kept.made_at, reverse=True)


def to_keep(moments: list[datetime], hourly: int, daily: int, weekly: int) -> set[datetime]:
    """The newest of each of the last hours, days and weeks that have one; the very newest always."""
    newest_first = sorted(moments, reverse=True)
    keep = set(newest_first[:1])
    for number, span in ((hourly, "%Y-%m-%d %H"), (daily, "%Y-%m-%d"), (weekly, "%G-%V")):
        seen: dict[str, datetime] = {}
        for moment in newest_first:
            seen.setdefault(moment.strftime(span), moment)
        keep.update(list(seen.values())[:number])
    return keep


def unnamed(store: Path, backups: list[Kept]) -> list[Path]:
    """Files in the store that none of the backups names."""
    named = {digest for kept in backups for digest in kept.manifest.files.values()}
    return [path for path in store.glob("*/*") if path.name not in named] if store.is_dir() else []
