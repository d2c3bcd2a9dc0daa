"""The topics of the handbook, read from their files once: one file a topic, in the order of the work."""

import tomllib
from collections.abc import Sequence
from dataclasses import dataclass
from fnmatch import fnmatch
from functools import cache
from pathlib import Path

from frimble.core import cautions, practice

_HERE = Path(__file__).parent


@dataclass(frozen=True)
class Topic:
    """What is done at one station.

    Attributes:
        name: as it stands in its address. lead: its one sentence. steps: what to do, in order.
        hands: what the hand does, in order, as the step's own page shows it. caution: of the step.
        asked: questions with their answers. picture: the name of its picture, or nothing.
        pages: view names that it belongs to, `*` for all of a place.
    """

    name: str
    title: str
    lead: str
    steps: Sequence[str]
    hands: Sequence[str]
    caution: cautions.Caution | None
    asked: Sequence[tuple[str, str]]
    picture: str
    pages: Sequence[str]

    @property
    def words(self) -> str:
        """All its text, to be searched."""
        asked = [part for pair in self.asked for part in pair]
        return " ".join([self.title, self.lead, *self.steps, *self.hands, *asked]).casefold()


@cache
def all_topics() -> tuple[Topic, ...]:
    return tuple(_read(path) for path in sorted((_HERE / "text").glob("*/*.toml")))


@cache
def terms() -> dict[str, str]:
    """Word on a page → what it means."""
    return tomllib.loads((_HERE / "text" / "terms.toml").read_text())


def topic(name: str) -> Topic | None:
    return next((each for each in all_topics() if each.name == name), None)


def for_page(view_name: str) -> Topic | None:
    """The topic that a page belongs to: one that names it goes before one that names its whole place."""
    exact = (each for each in all_topics() if view_name in each.pages)
    wide = (each for each in all_topics() if any(fnmatch(view_name, page) for page in each.pages))
    return next(exact, None) or next(wide, None)


def search(sought: str) -> list[Topic]:
    """Topics that hold all the words."""
    words = sought.casefold().split()
    return [each for each in all_topics() if all(word in each.words for word in words)]


def _read(path: Path) -> Topic:
    held = tomllib.loads(path.read_text())
    step = held.get("step", "")
    return Topic(
        name=path.stem.split("-", 1)[1],
        title=held["title"],
        lead=held["lead"],
        steps=tuple(held["steps"]),
        hands=practice.hands(step),
        caution=cautions.for_step(step) if step else None,
        asked=tuple((each["q"], each["a"]) for each in held.get("asked", ())),
        picture=held.get("picture", ""),
        pages=tuple(held["pages"]),
    )
