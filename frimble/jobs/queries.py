"""Jobs by what somebody looks for, parted by whether they are printed yet."""

from dataclasses import dataclass

from django.db.models import Count, F, Q, QuerySet

from frimble.jobs.choosing.colours import WITH_STENCIL
from frimble.jobs.models import Job


@dataclass(frozen=True)
class Jobs:
    """Those to be printed, late ones and the next first, those without a day last; and those past, the latest first."""

    coming: QuerySet[Job]
    printed: QuerySet[Job]


def search(sought: str = "") -> Jobs:
    """Jobs whose number, name or words hold all that was typed."""
    jobs = Job.objects.all()
    for word in sought.split():
        jobs = jobs.filter(Q(number__icontains=word) | Q(name__icontains=word) | Q(what__icontains=word))
    made = Q(needs__frame__screen__state__in=WITH_STENCIL) | Q(needs__beside__frame__screen__state__in=WITH_STENCIL)
    ready = Count("needs", filter=made, distinct=True)
    to_be_printed = Job.objects.to_be_printed()
    coming = jobs.filter(pk__in=to_be_printed).annotate(colours=Count("needs", distinct=True), ready=ready)
    return Jobs(
        coming.order_by(F("press_on").asc(nulls_last=True), "number"),
        jobs.exclude(pk__in=to_be_printed).order_by("-press_on", "-number"),
    )
