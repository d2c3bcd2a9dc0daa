"""The handbook's pictures: those that the pages draw, of values made up for them. The printed ones lie beside this file."""

from collections.abc import Callable
from pathlib import Path

from frimble.core.mesh.geometry import geometry
from frimble.core.settings import HouseSettings
from frimble.core.statistics.interval import Interval
from frimble.ui.pictures.coating.coat_section import coat_section
from frimble.ui.pictures.exposure.step_strip import step_strip
from frimble.ui.pictures.exposure.window_bar import window_bar
from frimble.ui.pictures.film.layers import film_layers
from frimble.ui.pictures.mesh.tension_plate import tension_plate

PRINTED = Path(__file__).parent / "printed"
_PLACES = {
    "upper left": (24.1, 23.6), "upper right": (23.8, 23.9), "centre": (24.6, 24.2), "lower left": (24.0, 23.7),
    "lower right": (21.2, 20.8),
}  # fmt: skip
_MEAN = 23.4
# Seconds of eight steps, the longest in strip 1 and 1.26 times the next, and where the card's edges lie, mm.
TIMES_S = [40.3, 32, 25.4, 20.2, 16, 12.7, 10, 8]
GRADES = ["over", "closing", "good", "good", "good", "short", "short", "under"]
_EDGES = [30.0 * k for k in range(9)]


def _section() -> str:
    return coat_section(geometry(77, 48, HouseSettings()), Interval(15, 12, 18), 0.7, (10, 20))


_DRAWN: dict[str, tuple[Callable[[], str], str]] = {
    "film-layers": (lambda: film_layers(False), "Film on the print side, its printed side against the coat."),
    "tension-plate": (
        lambda: tension_plate(_PLACES, _MEAN),
        "Warp above weft at five places, N/cm, and how far each lies from the mean. The slack corner decides.",
    ),
    "coat-section": (_section, "A coat cut through: threads, emulsion over mesh, and the band that is wanted."),
    "step-strip": (
        lambda: step_strip(TIMES_S, _EDGES, [], "cover", GRADES),
        "Eight steps, each 1.26 times the one before, with what was read of each.",
    ),
    "window-bar": (
        lambda: window_bar(20.0, (15.0, 13.5, 16.6), (27.0, 24.5, 29.8)),
        "A working window: its two ends with how well each is known, and the time in use.",
    ),
}


def drawn(name: str) -> tuple[str, str]:
    """(SVG, what it shows) of a picture; nothing where a topic has none."""
    if name not in _DRAWN:
        return "", ""
    draw, words = _DRAWN[name]
    return draw(), words


def names() -> tuple[str, ...]:
    return tuple(_DRAWN)


def printed(name: str) -> Path | None:
    """The file of a picture for print, black on white; None where there is none."""
    path = PRINTED / f"{name}.png"
    return path if name in _DRAWN and path.exists() else None
