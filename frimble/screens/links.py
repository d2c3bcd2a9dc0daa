"""Where each step of the work is done, and what places lead to. Later places name their own pages when they are ready."""

from dataclasses import dataclass, field

from frimble.ui.addresses import address

_PAGES: dict[str, str] = {}
_LINKS: dict[str, list["PageLink"]] = {}


@dataclass(frozen=True)
class PageLink:
    """A page to go to from a place: its words, its name among the addresses, whether it stands as a button.

    `key` marks what the key for something new opens.
    """

    words: str
    page: str
    button: bool = False
    key: bool = False
    arguments: tuple[str, ...] = field(default=())

    @property
    def url(self) -> str:
        return address(self.page, *self.arguments)


def add(place: str, *links: PageLink) -> None:
    """Put links on a place's page, after those it has; a place is a station, or a page named by its words."""
    known = _LINKS.setdefault(place, [])
    known.extend(link for link in links if link not in known)


def of(place: str) -> list[PageLink]:
    """The links of a place's page in the order they were added."""
    return list(_LINKS.get(place, ()))


def add_pages(**pages: str) -> None:
    """Name the pages of a later place: by step or by what is done there, its name among the addresses."""
    _PAGES.update(pages)


def page_url(what: str, argument: object) -> str:
    """Address of a page that a later place has named."""
    return address(_PAGES[what], argument)


def step_url(kind: str, code: str) -> str:
    """Address of the page where this step is done to this screen."""
    return page_url(kind, code) if kind in _PAGES else address("screens:step", code, kind)
