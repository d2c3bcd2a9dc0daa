"""Who is there when: by what was said of the day, else by what is usual, else as long as the house's day."""

from collections import Counter
from collections.abc import Mapping, Sequence
from datetime import date, datetime, time, timedelta

from frimble.core.conclusions import RuleViolation
from frimble.core.planning.day import Shift
from frimble.core.planning.hours import Spans, hours_of_day, hours_of_week
from frimble.core.planning.stages.way import FILM, SKILLS
from frimble.jobs.day.models import DayHours, UsualHours
from frimble.people.models import Person

_WORKS = (Person.Role.TECHNICIAN, Person.Role.LEAD)
_SKILLS = frozenset((*SKILLS, FILM))
# Days that are looked through for one on which somebody is there.
_AHEAD_DAYS = 14
# With less than this left of the day the next one is planned.
_TOO_LATE_MIN = 5


def people_at_work():
    """Whoever degreases, coats, exposes and washes."""
    return Person.objects.filter(is_active=True, role__in=_WORKS).order_by("first_name", "pk")


class Hours:
    """The hours of everybody who works here, read once for the days from `first` on."""

    def __init__(self, settings: Mapping, first: date, days: int = _AHEAD_DAYS) -> None:
        self.people = list(people_at_work())
        self._house: Spans = ((round(settings["day.starts_h"] * 60), round(settings["day.ends_h"] * 60)),)
        self._usual = {u.person_id: hours_of_week(u.week) for u in UsualHours.objects.all()}
        said = DayHours.objects.filter(on__gte=first, on__lt=first + timedelta(days=days))
        self._said = {(d.person_id, d.on): hours_of_day(d.hours) for d in said}
        alike = Counter(str(person) for person in self.people)
        self._names = {p.pk: str(p) if alike[str(p)] == 1 else f"{p} ({p.username})" for p in self.people}

    def spans(self, person: Person, day: date) -> Spans:
        """When a person is there on a day, minutes after midnight, within the house's day."""
        said = self._said.get((person.pk, day))
        if said is None:
            usual = self._usual.get(person.pk)
            said = usual[day.weekday()] if usual else None
        ((opens, closes),) = self._house
        return self._house if said is None else tuple((max(a, opens), min(b, closes)) for a, b in said)

    def shifts(self, day: date, begins_min: int) -> tuple[Shift, ...]:
        """Hours of all on a day that are left from a minute of it on, counted from that minute."""
        return tuple(
            Shift(self._names[person.pk], max(begins, begins_min) - begins_min, ends - begins_min, _SKILLS)
            for person in self.people
            for begins, ends in self.spans(person, day)
            if ends > max(begins, begins_min)
        )


def next_day(settings: Mapping, now: datetime) -> tuple[datetime, datetime, Sequence[Shift]]:
    """Start and end of the day that can be planned next, with who is there: today from now on, or one that comes.

    Raises:
        RuleViolation: nobody works here, or nobody is there in the next two weeks.
    """
    hours = Hours(settings, now.date())
    if not hours.people:
        raise RuleViolation("Nobody is there who could work: add a technician first.")
    soon = now.replace(second=0, microsecond=0) + timedelta(minutes=1)
    for ahead in range(_AHEAD_DAYS):
        day = now.date() + timedelta(days=ahead)
        opens, closes = (_moment(day, settings[f"day.{name}_h"], now.tzinfo) for name in ("starts", "ends"))
        if soon >= closes - timedelta(minutes=_TOO_LATE_MIN):
            continue
        start = max(soon, opens)
        shifts = hours.shifts(day, start.hour * 60 + start.minute)
        if shifts:
            return start, closes, shifts
    raise RuleViolation("Nobody has hours in the next two weeks: say who is there when.")


def _moment(day: date, hour: float, zone) -> datetime:
    moment = datetime.combine(day, time(0), tzinfo=zone) + timedelta(hours=hour)
    return moment.replace(second=0, microsecond=0)
