"""A film that is made for a job's colour becomes that colour's film."""

from frimble.films.models import Film
from frimble.jobs.models import ScreenNeed


def name_film(instance: Film, created: bool, **kwargs) -> None:
    """A new film of a job's separation, for the colour of the same name that has none; `kwargs` as signals send them."""
    if created and instance.job_number and instance.separation:
        ScreenNeed.objects.filter(
            job__number=instance.job_number, colour__iexact=instance.separation, film__isnull=True
        ).update(film=instance)
