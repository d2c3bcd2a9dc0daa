"""Films entered, and touched up."""

from django.utils import timezone

from frimble.films.models import Positive, TouchUp


def add_positive(person, *, name, job_number, separation, system, kept_at) -> Positive:
    """A new film on the bench."""
    return Positive.objects.create(
        name=name, job_number=job_number.upper(), separation=separation, system=system, kept_at=kept_at,
        made_at=timezone.now(), made_by=person,
    )  # fmt: skip


def touch_up(positive: Positive, person, *, words) -> TouchUp:
    """What was done to a film by hand."""
    return TouchUp.objects.create(positive=positive, words=words, at=timezone.now(), by=person)
