"""Pages that leads look for beside the house settings; later places add theirs."""

from dataclasses import dataclass

from django.urls import reverse


@dataclass(frozen=True)
class RoomLink:
    """A page that belongs to the running of the room."""

    words: str
    url: str


# Words → page; later places add theirs when they are ready.
_ROOM_PAGES: dict[str, str] = {"Which schools this house follows": "people:schools"}


def add_room_page(words: str, page: str) -> None:
    """A later place's page that leads look for beside the settings."""
    _ROOM_PAGES[words] = page


def links() -> list[RoomLink]:
    return [RoomLink(words, str(reverse(page))) for words, page in _ROOM_PAGES.items()]
