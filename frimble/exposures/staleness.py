"""What has moved since a time was calibrated: the lamp, the film, the pot, the control strips."""

from frimble.exposures import drift, lamps
from frimble.exposures.models import ChartEntry, LampRecord


def moved(entry: ChartEntry, batch, in_force) -> list[str]:
    """Sentences, each a reason to test again; empty while nothing has moved.

    Args:
        batch: the pot on the screen that is to be exposed, or None to leave pots out.
    """
    return [*_lamp(entry, in_force), *_film(entry), *_pot(entry, batch), *_strips(entry, in_force)]


def _lamp(entry, in_force) -> list[str]:
    replaced = entry.lamp.newest(LampRecord.Kind.REPLACED)
    if replaced and replaced.at > entry.accepted_at:
        return [
            f"{entry.lamp} was given a new bulb or tubes on {replaced.at:%d %B}: every time under it is to be tested again."
        ]
    then = (entry.facts or {}).get("hours")
    burned = lamps.hours_at(entry.lamp) - then if then is not None else 0
    if burned > in_force["lamp.retest_hours"]:
        return [f"{entry.lamp} has burned {burned:.0f} h since."]
    return []


def _film(entry) -> list[str]:
    changed = entry.film.settings_changed_at
    if changed and changed > entry.accepted_at:
        return [f"{entry.film} was printed with other settings since {changed:%d %B}."]
    return []


def _pot(entry, batch) -> list[str]:
    found_with = entry.reading.step_test.batch_id
    if batch and found_with != batch.pk and batch.mixed_at > entry.accepted_at:
        return [f"{batch.code} was mixed since: check again before fine work."]
    return []


def _strips(entry, in_force) -> list[str]:
    found = drift.of_entry(entry, in_force)
    return [found.factor.reason] if found and found.signal else []
