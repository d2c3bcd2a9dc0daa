"""Films entered, and touched up."""

from django.utils import timezone

from frimble.core.conclusions import require_between, require_positive
from frimble.core.film.densities import check_density
from frimble.core.film.placement import Art
from frimble.core.mesh.halftone import dot_pitch_um
from frimble.films.models import Film, TouchUp
from frimble.people import settings as house_settings


def add_film(
    person, *, name, job_number, separation, process, kept_at, ink="", width_mm=None, height_mm=None, **dots
) -> Film:
    """A new film on the bench.

    Args:
        dots: `ruling_lpi`, `angle_deg` and `dot_shape` of its separation, where it has dots.

    Raises:
        InvalidInput: a size of nothing, or a ruling or angle no halftone has.
    """
    if (ruling := dots.get("ruling_lpi")) is not None:
        dot_pitch_um(ruling, house_settings.current())
    if (angle := dots.get("angle_deg")) is not None:
        require_between(angle, -180, 180, "The dot angle, in degrees,", "angle_deg")
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
        **dots,
        made_at=timezone.now(),
        made_by=person,
    )


def touch_up(film: Film, person, *, words, kind="other", density_before=None, density_after=None) -> TouchUp:
    """What was done to a film by hand, with its black before and after where it was measured.

    Raises:
        InvalidInput: a density nobody believes.
    """
    for field, density in (("density_before", density_before), ("density_after", density_after)):
        if density is not None:
            check_density(density, house_settings.current(), field)
    return TouchUp.objects.create(
        film=film,
        words=words,
        kind=kind,
        density_before=density_before,
        density_after=density_after,
        at=timezone.now(),
        by=person,
    )


def keep_place(film: Film, art: Art, centre_mm: tuple[float, float]) -> Film:
    """Keep an image's size and where it lies with its film: `centre_mm` from the frame's middle, right and down."""
    film.width_mm, film.height_mm, film.turned = art.width_mm, art.height_mm, art.turned
    film.centre_x_mm, film.centre_y_mm = centre_mm
    film.save()
    return film
