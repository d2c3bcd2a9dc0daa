"""The screens of the made-up shop's coming jobs, chosen as its page would."""

from django.utils import timezone

from frimble.core.planning.choosing.assignment import assigned
from frimble.demo import scenario
from frimble.films.models import Film
from frimble.jobs.choosing import queries, services
from frimble.jobs.models import ScreenNeed


def choose_screens(person, settings) -> None:
    """Name the films of colours that have one, and hold the screens that suit the chosen jobs best."""
    for need in ScreenNeed.objects.exclude(colour="").select_related("job"):
        film = Film.objects.filter(job_number=need.job.number, separation__iexact=need.colour).first()
        if film:
            ScreenNeed.objects.filter(pk=need.pk).update(film=film)
    needs = list(ScreenNeed.objects.filter(job__number__in=scenario.CHOSEN).select_related("job", "mesh", "film"))
    wants = [queries.want(need) for need in needs]
    found = assigned(wants, queries.candidates(needs, settings, timezone.now()), settings)
    by_key = {want.key: need.pk for want, need in zip(wants, needs, strict=True)}
    services.hold_all([(by_key[key], code) for key, code in found.chosen.items()], person, settings)
