"""The last tension measuring of a screen, with its statistics."""

from frimble.core.tension import TensionReading, summarise
from frimble.people import standards


def last_measuring(screen):
    event = screen.meshing.events.standing().filter(kind="tension").select_related("tension").order_by("-at").first()
    if event is None or not hasattr(event, "tension"):
        return None
    values = event.tension.values.all()
    readings = [TensionReading(v.place, v.direction, v.n_per_cm) for v in values]
    return {"event": event, "summary": summarise(readings, standards.current())}
