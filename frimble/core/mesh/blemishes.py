"""Places on a mesh that spoil an image: ghosts, haze, holes and emulsion left."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from frimble.core.conclusions import InvalidInput, require_between

BLEMISHES = {
    "ghost": "ghost image that prints",
    "haze": "haze, does not print",
    "hole": "hole or tear",
    "spot": "emulsion left",
}


# A hole or a printing ghost spoils an image laid over it.
SPOILS = frozenset({"ghost", "hole", "spot"})


@dataclass(frozen=True)
class Blemish:
    """A place on the mesh: what it is, and its box in mm from the frame's outer top left, print side up."""

    kind: str
    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float

    @property
    def words(self) -> str:
        return BLEMISHES[self.kind]


def checked_blemish(
    kind: str, x_mm: int, y_mm: int, width_mm: int, height_mm: int, frame_mm: Sequence[float]
) -> Blemish:
    """A blemish that lies on its frame.

    Raises:
        InvalidInput: an unknown kind, or a place beyond the frame.
    """
    if kind not in BLEMISHES:
        raise InvalidInput(f"Choose one of {', '.join(BLEMISHES.values())}.", "kind")
    for start, size, whole, name in ((x_mm, width_mm, frame_mm[0], "x_mm"), (y_mm, height_mm, frame_mm[1], "y_mm")):
        require_between(start, 0, whole, "The place, in mm,", name)
        require_between(size, 0.1, whole, "Its size, in mm,", name)
        if start + size > whole + 0.5:
            raise InvalidInput(f"It would reach {start + size:.0f} mm; the frame measures {whole:.0f} mm.", name)
    return Blemish(kind, x_mm, y_mm, width_mm, height_mm)


def in_the_way(blemishes: Iterable[Blemish], images: Iterable[Any]) -> list[str]:
    """A warning for each blemish that lies under an image; `images` are boxes with name and place in mm like a blemish."""
    images = list(images)
    return [
        f"{image.name} would lie on a {b.words} at {b.x_mm:.0f}, {b.y_mm:.0f} mm. Move the image, or take another screen."
        for b in blemishes
        if b.kind in SPOILS
        for image in images
        if b.x_mm < image.x_mm + image.width_mm
        and image.x_mm < b.x_mm + b.width_mm
        and b.y_mm < image.y_mm + image.height_mm
        and image.y_mm < b.y_mm + b.height_mm
    ]
