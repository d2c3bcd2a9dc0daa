"""The made-up shop's day begins: the shift before handed over, and the day is planned."""

from frimble.demo import scenario
from frimble.jobs.day import services as day_services
from frimble.jobs.upkeep import services as upkeep_services
from frimble.people.models import Person


def begin_day() -> None:
    """What somebody finds who opens the room now.

    Raises:
        RuleViolation: there is nothing to plan, or nobody who could work.
    """
    lead, before = (Person.objects.get(username=name) for name in ("odile", "bertrand"))
    upkeep_services.hand_over(before, words=scenario.HANDED_OVER)
    day_services.plan_now(lead)
