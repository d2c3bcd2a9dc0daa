"""Searches kept under a name."""

from frimble.core.conclusions import InvalidInput
from frimble.screens.models import SavedSearch


def save(person, name: str, query: str) -> SavedSearch:
    """Keep a search under a name; the same name again is written over.

    Raises:
        InvalidInput: no name.
    """
    if not name:
        raise InvalidInput("Give the search a name.", "name")
    return SavedSearch.objects.update_or_create(by=person, name=name, defaults={"query": query})[0]


def remove(person, pk: int) -> None:
    """Let a person's own search go."""
    person.saved_searches.filter(pk=pk).delete()
