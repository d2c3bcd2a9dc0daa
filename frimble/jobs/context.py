"""What every page's frame shows: the line, running timers, light and units."""

from frimble.coatings.batches import queries as batch_queries
from frimble.jobs.line import floor_of, open_runs_of, side_stops, stops


def line(request):
    """Template context for signed-in pages; empty at the door."""
    person = getattr(request, "user", None)
    if person is None or not person.is_authenticated:
        return {"light": "day"}
    floor = floor_of(request)
    open_runs = open_runs_of(request)
    return {
        "line": stops(floor),
        "side_line": side_stops(),
        "open_runs": open_runs,
        "drying": floor.screens("dry").order_by("wet_until")[: 2 - len(open_runs)] if floor.counts["dry"] else [],
        "warming": batch_queries.warming(floor.now),
        "light": person.light,
        "inch": person.units == "inch",
    }
