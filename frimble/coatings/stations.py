"""What coating and drying put on the pages of earlier places."""

from frimble.screens import links
from frimble.screens.links import PageLink

_PAGES = (
    PageLink("Coat planner", "coatings:planner"),
    PageLink("Coating runs", "coatings:runs"),
    PageLink("Drying cabinet", "coatings:drying"),
    PageLink("Emulsion batches", "coatings:batches"),
    PageLink("Emulsions", "coatings:emulsions"),
    PageLink("Coaters", "coatings:coaters"),
    PageLink("How steadily we coat", "coatings:steadiness"),
)


def add_links() -> None:
    """The coating pages, from where coats are laid and where they dry."""
    links.add_pages(coat="coatings:coat", dry_check="coatings:dry-check", thickness="coatings:thickness")
    links.add("coat", PageLink("Coat several in one run", "coatings:runs", button=True), *_PAGES)
    links.add("dry", *_PAGES)
