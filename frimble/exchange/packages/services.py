"""A data package handed in, then read beside the pages."""

import logging
from pathlib import Path

from django.db import connection, transaction
from django.utils import timezone

from frimble.core.conclusions import RuleViolation
from frimble.exchange.models import PackageReading
from frimble.exchange.packages import aside, reading
from frimble.exchange.packages.bad_cells import BadCells
from frimble.people import background
from frimble.people.room_time import task

logger = logging.getLogger(__name__)

_FAILURES = background.FailureWords(
    "The package needs more memory than is free. Nothing was read; try again.",
    "It broke off: a fault of Frimble's ({fault}). Nothing was read; try again.",
    f"It was broken off {background.MOST_TRIES} times before it came to an end. Nothing was read.",
)


def bring(file) -> PackageReading:
    """Keep a package and put its reading in the queue; what was handed in before goes.

    Raises:
        InvalidInput: not a package, or a shop that is not empty. RuleViolation: another is being read.
    """
    reading.check_package(file)
    if under_way():
        raise RuleViolation("A package is being read already.")
    for earlier in PackageReading.objects.all():
        _let_go(earlier)
    file.seek(0)
    with transaction.atomic():
        brought = PackageReading(at=timezone.now())
        brought.file.save("shop.zip", file)
        transaction.on_commit(lambda: read_in.enqueue(brought.pk))
    return brought


def under_way() -> PackageReading | None:
    """The package that is being read or waits for it."""
    return PackageReading.objects.exclude(state__in=PackageReading.ENDS).first()


def try_again(brought: PackageReading) -> None:
    """Put one that broke off in the queue once more.

    Raises:
        RuleViolation: it has not.
    """
    background.put_again(brought, read_in, "Only one that broke off is read again.")


def take_up_left() -> int:
    """Put what a killed worker left in the queue again; how many there were."""
    aside.clear_left()
    return background.take_up_left(PackageReading, read_in, _FAILURES)


@task
def read_in(pk: int) -> None:
    """Read one package; in the end all of it stands in the shop, or nothing and why."""
    brought = PackageReading.objects.get(pk=pk)
    background.carry_out(brought, _read, _FAILURES, logger, "opening the package")
    brought.refresh_from_db()
    if brought.state == PackageReading.State.REFUSED:
        # Nothing will read it again.
        brought.file.delete()


def _read(brought: PackageReading) -> None:
    try:
        records = _records(brought)
    except BadCells as bad:
        PackageReading.objects.filter(pk=brought.pk).update(result=bad.as_json())
        raise
    brought.file.delete(save=False)
    brought.keep_result({"records": records})


def _records(brought: PackageReading) -> int:
    if connection.vendor == "sqlite":
        return aside.read_aside(Path(brought.file.path), brought.tell)
    with brought.file.open("rb") as file:
        return sum(reading.read_package(file).values())


def _let_go(brought: PackageReading) -> None:
    brought.file.delete(save=False)
    brought.delete()
