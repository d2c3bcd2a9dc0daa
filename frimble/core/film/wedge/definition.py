"""A reference wedge: what it is and how it is written down."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from frimble.core.conclusions import InvalidInput

FEWEST_PATCHES = 3
MOST_PATCHES = 41


@dataclass(frozen=True)
class Wedge:
    """A step wedge: first patch's corner in mm from the scan's top left, patch side, densities, turn in degrees."""

    x_mm: float
    y_mm: float
    patch_mm: float
    densities: tuple[float, ...]
    angle_deg: float = 0.0

    def patch_centres_mm(self) -> np.ndarray:
        """(n, 2) x, y of the middle of each patch; y grows downward, a positive turn lifts the right end."""
        along = (np.arange(len(self.densities)) + 0.5) * self.patch_mm
        turn = np.deg2rad(self.angle_deg)
        half = self.patch_mm / 2
        x = self.x_mm + along * np.cos(turn) + half * np.sin(turn)
        y = self.y_mm - along * np.sin(turn) + half * np.cos(turn)
        return np.column_stack([x, y])

    def box_mm(self) -> tuple[float, float, float, float]:
        """(x, y, width, height) of everything the wedge covers."""
        centres, reach = self.patch_centres_mm(), 0.75 * self.patch_mm
        (x0, y0), (x1, y1) = centres.min(axis=0) - reach, centres.max(axis=0) + reach
        return x0, y0, x1 - x0, y1 - y0


def checked_wedge(x_mm: float, y_mm: float, patch_mm: float, densities: Sequence[float]) -> Wedge:
    """A wedge whose numbers can be believed.

    Raises:
        InvalidInput: too few patches, a density below 0 or above 6, or densities that neither rise nor fall.
    """
    given = tuple(float(d) for d in densities)
    if not FEWEST_PATCHES <= len(given) <= MOST_PATCHES:
        raise InvalidInput(f"A wedge has {FEWEST_PATCHES} to {MOST_PATCHES} patches; {len(given)} were given.", "wedge")
    for value in given:
        if not 0 <= value <= 6:
            raise InvalidInput(f"A patch density of {value:g} is not between 0 and 6.", "wedge")
    steps = np.diff(given)
    if not ((steps > 0).all() or (steps < 0).all()):
        raise InvalidInput("The wedge's densities must rise, or fall, from patch to patch.", "wedge")
    if not 1 <= patch_mm <= 100:
        raise InvalidInput(f"A patch of {patch_mm:g} mm is not between 1 and 100 mm.", "wedge")
    if min(x_mm, y_mm) < 0:
        raise InvalidInput("The wedge's corner must lie on the scan.", "wedge")
    return Wedge(x_mm, y_mm, patch_mm, given)


def parse_wedge(text: str) -> Wedge:
    """Read `X_MM,Y_MM,PATCH_MM,D1/D2/…`.

    Raises:
        InvalidInput: not of that form, or a wedge that cannot be.
    """
    parts = text.split(",")
    try:
        if len(parts) != 4:
            raise ValueError
        x, y, patch = (float(p) for p in parts[:3])
        densities = [float(d) for d in parts[3].split("/")]
    except ValueError:
        raise InvalidInput(
            f"“{text}” is not a wedge. Write X_MM,Y_MM,PATCH_MM,D1/D2/…, such as 10,250,8,0.05/0.35/0.65.", "wedge"
        ) from None
    return checked_wedge(x, y, patch, densities)


def wedge_or_densities(text: str) -> tuple[Wedge | None, tuple[float, ...] | None]:
    """A placed wedge as `parse_wedge` reads it, or densities alone, `D1/D2/…`, of a wedge to be found; both None when empty.

    Raises:
        InvalidInput: neither of the two.
    """
    if not text.strip():
        return None, None
    if "," in text:
        return parse_wedge(text), None
    return None, parse_wedge(f"0,0,10,{text}").densities
