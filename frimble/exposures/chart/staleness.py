"""What has moved since a time was calibrated: the lamp, the film, the batch, the season, the control strips."""

from datetime import timedelta

from django.utils import timezone

from frimble.core.exposure.chart.times import months_apart
from frimble.core.exposure.light.source import moved_words
from frimble.exposures.models import ChartEntry
from frimble.exposures.room import LightRoom
from frimble.people.room_time import day_words

# Control strips of this many days tell of the room as it is now.
_LATELY_DAYS = 30


def moved(entry: ChartEntry, batch, room: LightRoom) -> list[str]:
    """Sentences, each a reason to test again; empty while nothing has moved.

    Args:
        batch: the batch on the screen that is to be exposed, or None to leave batches out.
    """
    return [
        *_lamp(entry, room),
        *_film(entry),
        *_batch(entry, batch, room),
        *_season(entry, room),
        *_strips(entry, room),
    ]


def lamp_changed(lamp, since, distance_mm: float | None, room: LightRoom) -> str:
    """Why no time found under this lamp holds any more: a new bulb, another place, shape or glass; empty while it does.

    Args:
        since: when the time was accepted. distance_mm: where the lamp stood then.
    """
    replaced = room.replaced(lamp)
    if replaced and replaced.at > since:
        when = day_words(replaced.at)
        return f"{lamp} was given a new bulb or tubes on {when}: every time under it is to be tested again."
    if words := moved_words(distance_mm, lamp.distance_mm, lamp.geometry, room.settings):
        return words
    if lamp.changed_at and lamp.changed_at > since:
        when = day_words(lamp.changed_at)
        return f"{lamp} was changed on {when} ({lamp.changed}): every time under it is to be tested again."
    return ""


def _lamp(entry, room) -> list[str]:
    if words := lamp_changed(entry.lamp, entry.accepted_at, entry.lamp_distance_mm, room):
        return [words]
    then = (entry.facts or {}).get("hours")
    hours = room.hours(entry.lamp)
    burned = hours - then if then is not None and hours is not None else 0
    if burned > room.settings["lamp.retest_hours"]:
        return [f"{entry.lamp} has burned {burned:.0f} h since."]
    return []


def _film(entry) -> list[str]:
    changed = entry.film_process.settings_changed_at
    if changed and changed > entry.accepted_at:
        return [f"{entry.film_process} was printed with other settings since {day_words(changed)}."]
    return []


def _batch(entry, batch, room) -> list[str]:
    if not batch or entry.batch_id == batch.pk or batch.mixed_at < entry.accepted_at:
        return []
    if room.steady_since(entry, batch.mixed_at):
        return []
    return [f"{batch.code} was mixed since, and too few control strips say that it is alike: check before fine work."]


def _season(entry, room) -> list[str]:
    now, most = timezone.localtime(), room.settings["exposure.season_months"]
    if months_apart(entry.accepted_at, now) < most:
        return []
    if room.steady_since(entry, now - timedelta(days=_LATELY_DAYS)):
        return []
    tested = timezone.localtime(entry.accepted_at)
    return [
        f"Tested in {tested:%B}: the room's warmth and damp are others in {now:%B}. Read control strips, or test again."
    ]


def _strips(entry, room) -> list[str]:
    strips = room.drift(entry.lamp_id, entry.emulsion_id, entry.accepted_at)
    return [strips.factor.reason] if strips and strips.signal else []
