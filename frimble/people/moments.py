"""When what is being recorded happened: now, unless a device kept the record while it had no network."""

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from datetime import datetime

from django.utils import timezone

_happened: ContextVar[datetime | None] = ContextVar("happened", default=None)


def now() -> datetime:
    """The moment that services write down."""
    return _happened.get() or timezone.now()


@contextmanager
def happened_at(moment: datetime) -> Iterator[None]:
    """Inside, what is recorded happened then."""
    token = _happened.set(moment)
    try:
        yield
    finally:
        _happened.reset(token)
