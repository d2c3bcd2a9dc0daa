"""Backups made by the clock beside the server, each verified, copied to a second folder, and thinned out."""

import logging
import shutil
import threading
from datetime import datetime, timedelta
from pathlib import Path

from django.conf import settings
from django.db import connection, connections
from django.utils import timezone

from frimble.people import settings as house_settings
from frimble.people.models import Person
from frimble.server.backups import keeping
from frimble.server.backups.checking import check
from frimble.server.backups.making import back_up

logger = logging.getLogger(__name__)
_LOOK_EVERY_S = 60.0


def root() -> Path:
    return Path(settings.VAR_DIR) / "backups" / "by-clock"


def is_possible() -> bool:
    """Only a database that is a file is copied so; PostgreSQL has its own tools for it."""
    return connection.vendor == "sqlite"


class BackupTimer:
    """A thread that makes a backup whenever one is due."""

    def __init__(self) -> None:
        self._stopping = threading.Event()
        self._thread = threading.Thread(target=self._run, name="backups", daemon=True)

    def start(self) -> None:
        self._thread.start()

    def stop(self) -> None:
        self._stopping.set()

    def _run(self) -> None:
        while not self._stopping.wait(_LOOK_EVERY_S):
            try:
                if is_due(datetime.now()):
                    make(datetime.now())
            except Exception:  # told in the log and, once overdue, on Today; the next look tries again
                logger.exception("A backup failed.")
            finally:
                connections.close_all()


def is_due(now: datetime) -> bool:
    hours = house_settings.current()["backup.every_h"]
    newest = next(iter(keeping.found(root())), None)
    return hours > 0 and is_possible() and (newest is None or now - newest.made_at >= timedelta(hours=hours))


def make(now: datetime) -> Path:
    """One backup, verified, copied to the second folder, and old ones thinned out; its folder.

    Raises:
        InvalidInput: the copy does not hold together. OSError: the disk is full or may not be written to.
    """
    house = house_settings.current()
    folder = root() / now.strftime(keeping.NAME)
    back_up(Path(connection.settings_dict["NAME"]), Path(settings.MEDIA_ROOT), folder, root() / "files")
    _thin_out(root(), house)
    if second := house["backup.second_folder"]:
        _copy_to(Path(second), folder)
        _thin_out(Path(second), house)
    return folder


def _thin_out(root: Path, house) -> None:
    backups = keeping.found(root)
    numbers = (int(house[f"backup.keep_{span}"]) for span in ("hourly", "daily", "weekly"))
    stay = keeping.to_keep([kept.made_at for kept in backups], *numbers)
    for kept in backups:
        if kept.made_at not in stay:
            shutil.rmtree(kept.folder)
    for path in keeping.unnamed(root / "files", [kept for kept in backups if kept.made_at in stay]):
        path.unlink()


def _copy_to(second: Path, folder: Path) -> None:
    """The same backup on another disk, with the files it has not got yet; looked through there too."""
    second.mkdir(parents=True, exist_ok=True, mode=0o700)
    store, there = folder.parent / "files", second / "files"
    for path in store.glob("*/*"):
        to = there / path.parent.name / path.name
        if not to.exists():
            to.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
            shutil.copyfile(path, to.with_suffix(".half"))
            to.with_suffix(".half").replace(to)
    half = second / f"{folder.name}.half"
    shutil.rmtree(half, ignore_errors=True)
    shutil.copytree(folder, half)
    half.replace(second / folder.name)
    check(second / folder.name)


def state(now: datetime) -> tuple[datetime | None, bool]:
    """(when the last good backup was made, whether one is overdue)."""
    hours = house_settings.current()["backup.every_h"]
    newest = next(iter(keeping.found(root())), None)
    made_at = newest.made_at if newest else None
    if hours <= 0 or not is_possible():
        return made_at, False
    since = made_at or _began()
    return made_at, since is not None and now - since > timedelta(hours=2 * hours + 1)


def _began() -> datetime | None:
    """When the room got its first person, by this machine's clock."""
    first = Person.objects.order_by("date_joined").values_list("date_joined", flat=True).first()
    return timezone.make_naive(first, datetime.now().astimezone().tzinfo) if first else None
