"""When the press wants what a job asks for."""

from datetime import datetime, time

from django.utils import timezone

from frimble.jobs.models import ScreenNeed


def due_at(need: ScreenNeed, settings) -> datetime | None:
    """When the press wants the screens of a job; None for one without a day."""
    job = need.job
    if job.press_on is None:
        return None
    hour = settings["day.press_h"]
    at = job.press_time or time(int(hour), round(hour % 1 * 60))
    return timezone.make_aware(datetime.combine(job.press_on, at))
