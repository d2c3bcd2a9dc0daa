"""A design's history: every job of its name, with its films, the screens made from them, and photographs."""

from dataclasses import dataclass
from datetime import timedelta

from frimble.core.conclusions import Conclusion
from frimble.core.tension.measurement import match_within_job
from frimble.exposures.models import Exposure
from frimble.films.models import Film
from frimble.jobs.models import Job, Photo
from frimble.people import settings as house_settings
from frimble.press.models import PressVisit
from frimble.screens.models import Screen

_MOST_VISITS = 60
_OF_ONE_RUN_DAYS = 14


@dataclass(frozen=True)
class EarlierOrder:
    """An order of the design that came before, and the screens that printed it."""

    job: Job
    screens: list[str]


@dataclass(frozen=True)
class History:
    """All that is known of a design, newest first; visits to press are those of the job itself."""

    earlier: list[EarlierOrder]
    films: list[Film]
    exposures: list[Exposure]
    visits: list[PressVisit]
    photos: list[Photo]
    match: Conclusion | None


def history_of(job: Job) -> History:
    """What was made for this job and for others of the same name."""
    jobs = list(Job.objects.filter(name__iexact=job.name).order_by("-number"))
    films = Film.objects.filter(job_number__in=[j.number for j in jobs])
    exposures = Exposure.objects.filter(film__in=films).select_related("event__installation__frame", "film")
    visits = PressVisit.objects.filter(job__in=jobs).select_related("event__installation__frame", "event__by", "job")
    visited = list(visits.order_by("-event__at")[:_MOST_VISITS])
    return History(
        [_order(j, visited) for j in jobs if j != job],
        list(films.select_related("process").prefetch_related("checks")),
        list(exposures.order_by("-event__at")[:_MOST_VISITS]),
        [v for v in visited if v.job_id == job.pk],
        list(Photo.objects.filter(job__in=jobs).select_related("job", "by")),
        _match([v for v in visited if v.job_id == job.pk]),
    )


def _order(job: Job, visits) -> EarlierOrder:
    codes = {v.event.installation.frame.code for v in visits if v.job_id == job.pk}
    return EarlierOrder(job, sorted(codes))


def _match(visits) -> Conclusion | None:
    """Whether the screens of the job's last run are near enough in tension; None for fewer than two that were measured."""
    if not visits:
        return None
    since = visits[0].event.at - timedelta(days=_OF_ONE_RUN_DAYS)
    frames = {v.event.installation.frame_id for v in visits if v.event.at >= since}
    measured = Screen.objects.for_lists().filter(frame__in=frames, tension_n_per_cm__isnull=False)
    means = {s.code: s.tension_n_per_cm for s in measured}
    return match_within_job(means, house_settings.current()) if len(means) > 1 else None
