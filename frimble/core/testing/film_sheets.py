"""Random film sheets with known faults and with the bait that false alarms bite on, seen through random scanners."""

import random

from frimble.core.simulation.scanner import WEDGE_DENSITIES, ScannerOptics, SimulatedFilm

# Sheets for tuning have even seeds below this; tests only ever use the held-out ones from it upward.
HELD_OUT_FROM = 1000
_WORDS = (
    "Estuary regatta",
    "Tide clock 2026",
    "Oyster 8 & 6 % B",
    "deck; marking: decals.",
    "ijoe aeg @ 0123",
    "Pennant Works",
)
_CELL = 40.0


def random_film(seed: int, columns: int = 3, rows: int = 3, dpi: int | None = None) -> SimulatedFilm:
    """A sheet of `columns` × `rows` cells of 40 mm, each with its own content, and a wedge along the foot."""
    rng = random.Random(seed)
    dpi = dpi or rng.choice((400, 600, 600, 720))
    film = SimulatedFilm(
        columns * _CELL + 12, rows * _CELL + 30, dpi, dmax=rng.uniform(2.75, 3.4), dmin=rng.uniform(0.03, 0.09)
    )
    fillings = (_solid, _solid, _solid, _words, _tints, _lines, _reversed, _dust, _figure)
    for row in range(rows):
        for column in range(columns):
            filling = rng.choice(fillings)
            filling(film, 8 + column * _CELL, 8 + row * _CELL, rng)
    patch = min(9.0, (film.width_mm - 12) / len(WEDGE_DENSITIES))
    film.step_wedge(6, film.height_mm - 6 - patch, patch)
    return film


def random_optics(seed: int, bits: int | None = None, encoding: str | None = None) -> ScannerOptics:
    """A scanner with its share of every trouble."""
    rng = random.Random(f"optics {seed}")
    return ScannerOptics(
        skew_deg=rng.uniform(-3, 3),
        blur_mm=rng.uniform(0.02, 0.05),
        flare=rng.choice((0, 0.0003, 0.001)),
        vignetting=rng.uniform(0, 0.15),
        noise=rng.uniform(0.001, 0.004),
        bits=bits or rng.choice((8, 8, 16)),
        encoding=encoding or "srgb",
    )


def _solid(film: SimulatedFilm, x: float, y: float, rng: random.Random) -> None:
    film.solid(x, y, 34, 34)
    for _ in range(rng.randint(1, 5)):
        film.pinhole(x + rng.uniform(1.5, 32.5), y + rng.uniform(1.5, 9), rng.uniform(0.08, 0.35))
    what = rng.random()
    if what < 0.35:
        density = rng.uniform(1.3, 2.2)
        film.weak_area(
            x + rng.uniform(3, 14), y + 12, rng.uniform(4, 14), rng.uniform(4, 18), density, soft=rng.random() < 0.4
        )
    elif what < 0.6:
        x0, y0 = x + rng.uniform(3, 10), y + rng.uniform(12, 30)
        x1, y1 = x0 + rng.uniform(6, 20), y + rng.uniform(12, 30)
        middle = ((x0 + x1) / 2 + rng.uniform(-0.6, 0.6), (y0 + y1) / 2 + rng.uniform(-0.6, 0.6))
        film.scratch([(x0, y0), middle, (x1, y1)], rng.uniform(0.05, 0.15), rng.uniform(0.4, 1.0))
    elif what < 0.75:
        film.banding(x + 2, y + 12, 30, 20, rng.uniform(1.5, 4), rng.uniform(0.25, 0.7), rng.random() < 0.3)


def _words(film: SimulatedFilm, x: float, y: float, rng: random.Random) -> None:
    for k in range(5):
        height = rng.uniform(3.2, 5.5)
        film.text(x, y + 6 + k * 7, height, rng.choice(_WORDS)[: int(36 / (0.62 * height))], rng.choice((500, 700)))


def _reversed(film: SimulatedFilm, x: float, y: float, rng: random.Random) -> None:
    film.solid(x, y, 34, 34)
    for k in range(3):
        height = rng.uniform(4, 6)
        film.text(x + 3, y + 8 + k * 7, height, rng.choice(_WORDS)[: int(26 / (0.62 * height))], 700, ink=0.0)
    for k in range(3):
        film.line([(x + 4, y + 27 + k * 2.2), (x + 28, y + 27 + k * 2.2)], rng.uniform(0.3, 0.5), ink=0.0)


def _tints(film: SimulatedFilm, x: float, y: float, rng: random.Random) -> None:
    lpi, angle = rng.choice((35, 45, 55)), rng.choice((0, 15, 22.5, 45, 75))
    for k in range(4):
        coverage = rng.choice((0.07, 0.1, 0.2, 0.35, 0.5, 0.7, 0.85, 0.9, 0.93))
        film.halftone(x + k % 2 * 17, y + k // 2 * 17, 15, 15, lpi, angle, coverage)


def _lines(film: SimulatedFilm, x: float, y: float, rng: random.Random) -> None:
    for k in range(4):
        if rng.random() < 0.4:
            film.fine_line(x, y + 2 + k * 4, x + 30, y + 2 + k * 4 + rng.uniform(-1.5, 1.5), rng.uniform(0.08, 0.19))
        else:
            film.line([(x, y + 2 + k * 4), (x + 30, y + 2 + k * 4)], rng.uniform(0.28, 0.8))
    for k in range(4):
        film.line([(x + 3 + k * 6, y + 20), (x + 7 + k * 6, y + 34)], rng.uniform(0.28, 0.6))


def _dust(film: SimulatedFilm, x: float, y: float, rng: random.Random) -> None:
    places = [(x + 4 + 7 * i, y + 4 + 7 * j) for i in range(5) for j in range(5)]
    for px, py in rng.sample(places, rng.randint(2, 7)):
        film.speck(px + rng.uniform(-2, 2), py + rng.uniform(-2, 2), rng.uniform(0.1, 0.4), rng.uniform(0.7, 1))


def _figure(film: SimulatedFilm, x: float, y: float, rng: random.Random) -> None:
    """Register cross, rings and a row of dots: all meant."""
    film.line([(x + 10, y + 3), (x + 10, y + 17)], 0.3)
    film.line([(x + 3, y + 10), (x + 17, y + 10)], 0.3)
    film.dot(x + 27, y + 10, 12)
    film.dot(x + 27, y + 10, 9, ink=0.0)
    for k in range(8):
        film.dot(x + 4 + k * 3.5, y + 26, 0.5)
