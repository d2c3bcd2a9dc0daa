"""Skills that fade while they are not daily work."""

from datetime import timedelta

from django.urls import reverse
from django.utils import timezone

from frimble.core.training.skills import SKILLS
from frimble.people import settings as house_settings
from frimble.screens.models import ScreenEvent
from frimble.screens.reminders import Reminder
from frimble.training.models import DrillRun


def reminder(kind: str, person) -> Reminder | None:
    """A drill before a step that somebody has not done for long, unless they drilled it since."""
    asked = [name for name, skill in SKILLS.items() if skill.step == kind]
    if not asked or not person.may_record:
        return None
    days = int(house_settings.current()["training.fades_days"])
    since = timezone.now() - timedelta(days=days)
    did = ScreenEvent.objects.filter(by=person, kind=kind)
    if not did.exists() or did.filter(at__gte=since).exists():
        return None
    if DrillRun.objects.filter(person=person, skill__in=asked, answered_at__gte=since).exists():
        return None
    title = SKILLS[asked[0]].title
    words = f"You have not done this for over {days} days. A drill first: {title}"
    return Reminder(words, reverse("training:training"))
