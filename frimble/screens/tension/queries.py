"""The last tension measurement of a screen, with its statistics."""

from frimble.core.tension.measurement import DIRECTIONS, TensionReading, summarise
from frimble.people import settings as house_settings


def last_measurement(screen):
    event = (
        screen.installation.events.standing().filter(kind="tension").select_related("tension").order_by("-at").first()
    )
    if event is None or not hasattr(event, "tension"):
        return None
    values = event.tension.values.all()
    readings = [TensionReading(v.place, v.direction, v.n_per_cm) for v in values]
    return {
        "event": event,
        "summary": summarise(readings, house_settings.current(), screen.frame.material),
        "places": _by_place(readings),
    }


def _by_place(readings) -> dict[str, tuple[float, float]]:
    """(warp, weft) mean of each place, N/cm."""
    places = {}
    for place in dict.fromkeys(r.place for r in readings):
        means = []
        for direction in DIRECTIONS:
            values = [r.n_per_cm for r in readings if (r.place, r.direction) == (place, direction)]
            means.append(sum(values) / len(values) if values else None)
        if None not in means:
            places[place] = tuple(means)
    return places
