"""People and their sessions as pages list them."""

from django.db.models import Count, Max, Q, QuerySet
from django.utils import timezone

from frimble.people.accounts import codes
from frimble.people.models import Person, Session


def everybody() -> QuerySet[Person]:
    """All people of the room, those who left last; with how many sessions they have and when they were seen."""
    live = Q(sessions__expire_date__gt=timezone.now())
    counted = Person.objects.annotate(live=Count("sessions", filter=live), seen=Max("sessions__seen_at", filter=live))
    return counted.select_related("sign_in_code").order_by("-is_active", "username")


def sessions_of(person: Person) -> QuerySet[Session]:
    """Where somebody is signed in, the newest first."""
    return Session.objects.filter(person=person, expire_date__gt=timezone.now()).order_by("-seen_at")


def by_person_code(digits: str) -> Person | None:
    """Who signs with these four digits."""
    if not digits.strip():
        return None
    return Person.objects.filter(person_code=codes.person_digest(digits), is_active=True).first()
