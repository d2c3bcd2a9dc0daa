"""A design's history: every job of its name, with its films, the screens made from them, and photographs."""

from dataclasses import dataclass

from frimble.exposures.models import Exposure
from frimble.films.models import Positive
from frimble.jobs.models import Job, Photo, PressVisit

_MOST_VISITS = 60


@dataclass(frozen=True)
class History:
    """All that is known of a design, newest first."""

    earlier: list[Job]
    films: list[Positive]
    exposures: list[Exposure]
    visits: list[PressVisit]
    photos: list[Photo]


def history_of(job: Job) -> History:
    """What was made for this job and for others of the same name."""
    jobs = list(Job.objects.filter(name__iexact=job.name).order_by("-number"))
    films = Positive.objects.filter(job_number__in=[j.number for j in jobs])
    exposures = Exposure.objects.filter(positive__in=films).select_related("event__meshing__frame", "positive")
    visits = PressVisit.objects.filter(job__in=jobs).select_related("event__meshing__frame", "event__by", "job")
    return History(
        [j for j in jobs if j != job],
        list(films.select_related("system").prefetch_related("checks")),
        list(exposures.order_by("-event__at")[:_MOST_VISITS]),
        list(visits.order_by("-event__at")[:_MOST_VISITS]),
        list(Photo.objects.filter(job__in=jobs).select_related("job", "by")),
    )
