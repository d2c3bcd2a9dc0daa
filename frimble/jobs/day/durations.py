"""What hands take for each step in this room, learned from the time between one person's records."""

from collections import defaultdict
from collections.abc import Mapping
from datetime import timedelta

from django.utils import timezone

from frimble.core.conclusions import Conclusion
from frimble.core.planning.stages.durations import usual_minutes
from frimble.people.cached import CachedValue
from frimble.screens.models import ScreenEvent

# Each step's record, and the house setting that its learned time takes the place of.
KEYS = {
    "reclaim": "day.reclaim_min",
    "degrease": "day.degrease_min",
    "coat": "day.coat_min",
    "expose": "day.expose_min",
    "wash": "day.wash_min",
    "inspect": "day.finish_min",
}
_DAYS, _RECORDS = 180, 4000
CACHED = CachedValue("day-durations", 900)


def learned(settings: Mapping) -> dict[str, Conclusion]:
    """By house setting what a step takes here, min."""
    return CACHED.get(lambda: _learned(settings), settings)


def with_learned(settings: Mapping) -> dict:
    """The house settings with what was learned in place of the figures it begins from; whole minutes."""
    minutes = {key: max(1, round(found.known)) for key, found in learned(settings).items()}
    return {**settings, **minutes}


def _learned(settings: Mapping) -> dict[str, Conclusion]:
    gaps = _gaps()
    return {key: usual_minutes(key, gaps[kind], settings) for kind, key in KEYS.items()}


def _gaps() -> dict[str, list[float]]:
    """Minutes from one record of a person to their next, by the kind of the next one."""
    since = timezone.now() - timedelta(days=_DAYS)
    rows = ScreenEvent.objects.standing().filter(at__gte=since).order_by("-at", "-pk")
    gaps: dict[str, list[float]] = defaultdict(list)
    next_of: dict[int, tuple[str, object]] = {}
    for person, kind, at in rows.values_list("by", "kind", "at")[:_RECORDS]:
        if person in next_of:
            later_kind, later = next_of[person]
            gaps[later_kind].append((later - at).total_seconds() / 60)
        next_of[person] = kind, at
    return gaps
