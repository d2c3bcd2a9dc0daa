"""What is worked out from many records and kept for a while, since many pages ask for it."""

from collections.abc import Mapping
from typing import Any
from uuid import uuid4

from django.core.cache import cache

from frimble.core.settings import HouseSettings
from frimble.people.cached import changes


class CachedValue:
    """A value kept in this process, worked out anew when what it rests on was written in any or house settings changed.

    It is kept as it is, since copying it would cost as much as reading it: nobody may change what they are given.

    Attributes:
        name: of the value, in the cache and among the changes. seconds: after which it is worked out anew anyway.
    """

    def __init__(self, name: str, seconds: int):
        self.name, self.seconds = name, seconds
        self._made: tuple[str, Any] = ("", None)

    def get(self, make, settings: Mapping[str, Any] | None = None):
        """The value, from `make()` where none is kept that was worked out from this state and under these settings."""
        # The state is read first: what is committed while the value is worked out makes it old at the next look.
        under = changes.state(self.name), _told_apart_by(settings)
        # Kept with its state is a token; the value that bears it lies here.
        kept, made = cache.get(self.name), self._made
        if kept is None or kept[0] != under or kept[1] != made[0]:
            made = self._made = uuid4().hex, make()
            cache.set(self.name, (under, made[0]), self.seconds)
        return made[1]

    def invalidate(self, **kwargs) -> None:
        """Something it rests on was written; signals may call this, in the transaction that writes."""
        changes.record(self.name)
        # A transaction sees its own writes before others see the change.
        cache.delete(self.name)


def _told_apart_by(settings: Mapping[str, Any] | None) -> dict[str, Any]:
    """What tells settings from others: of house settings what the shop changed, since all of them take long to compare."""
    return dict(settings.changes if isinstance(settings, HouseSettings) else settings or {})
