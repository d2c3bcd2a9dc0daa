"""A drawing as plain shapes, so that a drill and its answer are the same picture."""

from dataclasses import dataclass, replace
from enum import StrEnum


class Tone(StrEnum):
    """What a shape stands for; pages give each its colour in either light."""

    PAPER = "paper"
    INK = "ink"
    SOFT = "soft"
    COAT = "coat"
    PALE = "pale"
    OPEN = "open"
    BLACK = "black"
    GREY = "grey"
    MARK = "mark"
    RIGHT = "right"


@dataclass(frozen=True)
class Box:
    x: float
    y: float
    wide: float
    high: float
    tone: Tone
    outline: bool = False


@dataclass(frozen=True)
class Disc:
    x: float
    y: float
    radius: float
    tone: Tone
    outline: bool = False


@dataclass(frozen=True)
class Stroke:
    x1: float
    y1: float
    x2: float
    y2: float
    tone: Tone
    wide: float = 2.0


@dataclass(frozen=True)
class Words:
    x: float
    y: float
    text: str
    tone: Tone = Tone.INK
    anchor: str = "middle"
    size: float = 14.0


Shape = Box | Disc | Stroke | Words


@dataclass(frozen=True)
class Scene:
    """Shapes in their order, and what they show for those who cannot see it; `words` never tell the answer."""

    wide: float
    high: float
    shapes: tuple[Shape, ...]
    words: str

    def with_more(self, *shapes: Shape) -> "Scene":
        return replace(self, shapes=(*self.shapes, *shapes))
