"""Work that was refused is kept."""

from django.utils import timezone

from frimble.core.conclusions import InvalidInput, require_between
from frimble.jobs.models import RefusedWork

_MOST_MM, _MOST_MONEY = 10_000, 1e7


def refuse(
    person, *, words: str, reason: str, width_mm: float | None, height_mm: float | None, money: float | None
) -> RefusedWork:
    """Work that was not taken, with what is known of it.

    Raises:
        InvalidInput: one side without the other, or a size or money that cannot be.
    """
    if (width_mm is None) != (height_mm is None):
        raise InvalidInput("Both sides, or neither.", "height_mm" if height_mm is None else "width_mm")
    for side, field in ((width_mm, "width_mm"), (height_mm, "height_mm")):
        if side is not None:
            require_between(side, 1, _MOST_MM, "A side, in mm,", field)
    if money is not None:
        require_between(money, 0, _MOST_MONEY, "The money", "money")
    return RefusedWork.objects.create(
        words=words, reason=reason, width_mm=width_mm, height_mm=height_mm, money=money, at=timezone.now(), by=person
    )
