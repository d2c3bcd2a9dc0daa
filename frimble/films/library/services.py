"""Films entered, and touched up."""

from django.utils import timezone

from frimble.core.conclusions import require_positive
from frimble.core.film.placement import Art
from frimble.films.models import Film, TouchUp


def add_film(person, *, name, job_number, separation, process, kept_at, ink="", width_mm=None, height_mm=None) -> Film:
    """A new film on the bench.

    Raises:
        InvalidInput: a size of nothing.
    """
    for field, size in (("width_mm", width_mm), ("height_mm", height_mm)):
        if size is not None:
            require_positive(size, "The image's size, in mm,", field)
    return Film.objects.create(
        name=name,
        job_number=job_number.upper(),
        separation=separation,
        process=process,
        kept_at=kept_at,
        ink=ink,
        width_mm=width_mm,
        height_mm=height_mm,
        made_at=timezone.now(),
        made_by=person,
    )


def touch_up(film: Film, person, *, words) -> TouchUp:
    """What was done to a film by hand."""
    return TouchUp.objects.create(film=film, words=words, at=timezone.now(), by=person)


def keep_place(film: Film, art: Art, centre_mm: tuple[float, float]) -> Film:
    """Keep an image's size and where it lies with its film: `centre_mm` from the frame's middle, right and down."""
    film.width_mm, film.height_mm, film.turned = art.width_mm, art.height_mm, art.turned
    film.centre_x_mm, film.centre_y_mm = centre_mm
    film.save()
    return film
