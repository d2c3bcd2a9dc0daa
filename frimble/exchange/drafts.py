"""A list that was brought and waits to be taken over."""

from django.utils import timezone

from frimble.core.conclusions import InvalidInput
from frimble.exchange import reading
from frimble.exchange.models import Draft

_MOST_BYTES = 20 * 2**20


def bring(file, person) -> Draft:
    """Read a list and keep it as the person's only draft.

    Raises:
        InvalidInput: larger than can be taken at once, or no table that can be read.
    """
    if file.size > _MOST_BYTES:
        raise InvalidInput(f"The file is larger than {_MOST_BYTES // 2**20} MB: bring the list in parts.", "file")
    table = reading.read_table(file.read())
    Draft.objects.filter(by=person).delete()
    return Draft.objects.create(
        headings=table.headings,
        rows=table.rows,
        notes=table.notes,
        at=timezone.now(),
        by=person,
    )


def drop(draft: Draft) -> None:
    """Let a list go without taking anything over."""
    draft.delete()
