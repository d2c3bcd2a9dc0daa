"""What is worked out from many records and kept, and how every process knows that these have changed."""

from frimble.people.cached.prepared import Prepared
from frimble.people.cached.values import CachedValue

__all__ = ["CachedValue", "Prepared"]
