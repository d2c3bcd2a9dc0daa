"""Ghosts, haze, holes and spots written down, and written off when they are gone."""

from django.utils import timezone

from frimble.core.conclusions import InvalidInput
from frimble.core.mesh import blemishes
from frimble.screens.blemishes.queries import standing
from frimble.screens.models import Blemish, Screen
from frimble.ui.photos import redrawn


def note_blemish(screen: Screen, person, *, kind, x_mm, y_mm, width_mm, height_mm, photo=None) -> Blemish:
    """Record where one lies, with a photograph where there is one.

    Raises:
        InvalidInput: it lies beyond the frame, its kind is not known, or the photograph cannot be read.
    """
    frame = (screen.frame.outer_width_mm, screen.frame.outer_height_mm)
    blemish = blemishes.checked_blemish(kind, x_mm, y_mm, width_mm, height_mm, frame)
    mark = Blemish(
        installation=screen.installation,
        kind=blemish.kind,
        x_mm=blemish.x_mm,
        y_mm=blemish.y_mm,
        width_mm=blemish.width_mm,
        height_mm=blemish.height_mm,
        at=timezone.now(),
        by=person,
    )
    if photo:
        mark.photo.save("photo", redrawn(photo, "photo"), save=False)
    mark.save()
    return mark


def clear_blemish(screen: Screen, person, number: int) -> Blemish:
    """Record that one is gone.

    Raises:
        InvalidInput: it is not on this screen.
    """
    gone = standing(screen.installation).filter(pk=number).first()
    if gone is None:
        raise InvalidInput("That mark is not on this screen any more.", "blemish")
    return Blemish.objects.create(
        installation=gone.installation,
        kind=gone.kind,
        x_mm=gone.x_mm,
        y_mm=gone.y_mm,
        width_mm=gone.width_mm,
        height_mm=gone.height_mm,
        clears=gone,
        at=timezone.now(),
        by=person,
    )
