"""Writing down what is wrong at places of a print."""

from frimble.core.conclusions import InvalidInput, require_between
from frimble.people import moments
from frimble.press.defects.models import PrintDefect
from frimble.stencils.models import StencilPhoto

_MOST_MM = 2000


def tap(photo: StencilPhoto, person, *, kind: str, x_mm: float, y_mm: float) -> PrintDefect:
    """A fault at a place.

    Raises:
        InvalidInput: a place that no print has.
    """
    for name, value in (("x_mm", x_mm), ("y_mm", y_mm)):
        require_between(value, 0, _MOST_MM, "The place, in mm,", name)
    return PrintDefect.objects.create(photo=photo, kind=kind, x_mm=x_mm, y_mm=y_mm, at=moments.now(), by=person)


def answer(photo: StencilPhoto, person, *, fault: int, shows: bool) -> PrintDefect:
    """Whether a fault of the stencil shows on the print; the newest answer stands.

    Raises:
        InvalidInput: no such fault.
    """
    if fault >= photo.number_of_faults:
        raise InvalidInput("That fault is not on this stencil's photo.")
    return PrintDefect.objects.create(photo=photo, fault=fault, shows=shows, at=moments.now(), by=person)
