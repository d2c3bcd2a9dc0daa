"""What is worked out from many records and kept for a while, since many pages ask for it."""

from django.core.cache import cache
from django.db import transaction


class CachedValue:
    """A value kept under a name, worked out anew when it is forgotten, grows old, or house settings have changed."""

    def __init__(self, name: str, seconds: int):
        self.name, self.seconds = name, seconds

    def get(self, make, settings=None):
        """The value, from `make()` where none is kept that was worked out under these settings."""
        under = dict(settings or {})
        kept = cache.get(self.name)
        if kept is None or kept[0] != under:
            kept = under, make()
            cache.set(self.name, kept, self.seconds)
        return kept[1]

    def invalidate(self, **kwargs) -> None:
        """Something it rests on was written; signals may call this.

        Once more when that is committed, since another page may have worked it out from the old state in between.
        """
        self._drop()
        transaction.on_commit(self._drop)

    def _drop(self) -> None:
        cache.delete(self.name)
