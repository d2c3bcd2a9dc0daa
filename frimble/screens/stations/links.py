"""What a station's page leads to besides its screens. Later places on the way add their own when they are ready."""

from dataclasses import dataclass


@dataclass(frozen=True)
class StationLink:
    """A page to go to from a station: its words, its name among the addresses, whether it stands as a button.

    `key` marks what the key for something new opens.
    """

    words: str
    page: str
    button: bool = False
    key: bool = False


_LINKS: dict[str, list[StationLink]] = {"coat": [StationLink("Register a screen", "screens:register", True, True)]}


def add(station: str, *links: StationLink) -> None:
    """Put links on a station's page, after those it has."""
    known = _LINKS.setdefault(station, [])
    known.extend(link for link in links if link not in known)


def of(station: str) -> list[StationLink]:
    """The links of a station's page in the order they were added."""
    return list(_LINKS.get(station, ()))
