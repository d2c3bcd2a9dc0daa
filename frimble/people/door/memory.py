"""Where sessions and tries are kept while the database cannot be written to, until the server ends.

A full disk must not keep the person out who can make room.
"""

from django.core.cache.backends.locmem import LocMemCache

MEMORY = LocMemCache("door", {})
