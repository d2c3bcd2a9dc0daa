"""What coating and drying put on the stations' pages."""

from frimble.screens.stations import links
from frimble.screens.stations.links import StationLink

_PAGES = (
    StationLink("Coat planner", "coatings:planner"),
    StationLink("Coating runs", "coatings:runs"),
    StationLink("Drying cabinet", "coatings:drying"),
    StationLink("Emulsion batches", "coatings:batches"),
    StationLink("Emulsions", "coatings:emulsions"),
    StationLink("Coaters", "coatings:coaters"),
    StationLink("How steadily we coat", "coatings:steadiness"),
)


def add_links() -> None:
    """The coating pages, from where coats are laid and where they dry."""
    links.add("coat", StationLink("Coat several in one run", "coatings:runs", button=True), *_PAGES)
    links.add("dry", *_PAGES)
