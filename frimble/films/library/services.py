"""Films entered, and touched up."""

from django.utils import timezone

from frimble.films.models import Film, TouchUp


def add_film(person, *, name, job_number, separation, process, kept_at) -> Film:
    """A new film on the bench."""
    return Film.objects.create(
        name=name,
        job_number=job_number.upper(),
        separation=separation,
        process=process,
        kept_at=kept_at,
        made_at=timezone.now(),
        made_by=person,
    )


def touch_up(film: Film, person, *, words) -> TouchUp:
    """What was done to a film by hand."""
    return TouchUp.objects.create(film=film, words=words, at=timezone.now(), by=person)
