"""The demo's films: a pennant positive with faults and a clean one, drawn, scanned and checked as a user's would be."""

from datetime import timedelta

from django.core.files.base import ContentFile

from frimble.films.checks.services import run_check
from frimble.films.models import Film, FilmProcess, ScanCheck
from frimble.screens.models import MeshType

_DPI = 400


def lay_out_films(now, person) -> None:
    """Two positives on the bench, each with a checked scan."""
    process = FilmProcess.objects.get(name="Inkjet black")
    mesh = MeshType.objects.get(count_per_cm=43, thermal=False)
    films = (
        ("Lugger pennant", "white base", (190, 130), _pennant),
        ("Lugger star", "gold", (90, 90), _star),
    )
    for k, (name, separation, size, draw) in enumerate(films):
        at = now - timedelta(hours=3 - k)
        film = Film.objects.create(
            name=name,
            job_number="J-301",
            separation=separation,
            process=process,
            kept_at="drawer 2",
            ink="solvent",
            width_mm=size[0],
            height_mm=size[1],
            made_at=at,
            made_by=person,
        )
        sheet = draw()
        wedge = "{:g},{:g},{:g},".format(*sheet.wedge[:3]) + "/".join(f"{d:g}" for d in sheet.wedge[3])
        check = ScanCheck(film=film, dpi=_DPI, wedge=wedge, mesh=mesh, at=at, by=person)
        check.scan.save("scan", ContentFile(_scanned(sheet, k)))
        run_check.call(check.pk)


def _scanned(sheet, seed) -> bytes:
    import cv2

    from frimble.core.simulation.scanner import ScannerOptics, scan

    codes, _ = scan(sheet, ScannerOptics(skew_deg=0.7, flare=0.0003, vignetting=0.05), seed)
    return cv2.imencode(".png", codes)[1].tobytes()


def _pennant():
    from frimble.core.simulation.scanner import SimulatedFilm

    film = SimulatedFilm(210, 150, _DPI, dmax=3.05)
    film.solid(12, 12, 110, 78)
    film.text(22, 60, 16, "LUGGER", 800, ink=0.0)
    film.text(22, 78, 8, "Quillmarsh week", 600, ink=0.0)
    film.halftone(132, 12, 30, 30, 45, 22.5, 0.3)
    film.halftone(166, 12, 30, 30, 45, 22.5, 0.08)
    film.text(132, 60, 6, "Pennant 14, deck side", 500)
    film.text(132, 70, 3.4, "Print white first, flash, then gold", 500)
    film.line([(132, 80), (196, 80)], 0.8)
    film.fine_line(132, 86, 196, 86, 0.14)
    film.weak_area(88, 18, 22, 16, 1.75, soft=True)
    film.scratch([(16, 84), (48, 82.5), (70, 84.5)], 0.09)
    for x, y, diameter in ((18, 20, 0.12), (64, 28, 0.25), (112, 70, 0.18), (40, 22, 0.1)):
        film.pinhole(x, y, diameter)
    for x, y in ((150, 100), (90, 104), (30, 110)):
        film.speck(x, y, 0.22)
    _marks(film)
    film.step_wedge(20, 130, 12)
    return film


def _star():
    from frimble.core.simulation.scanner import SimulatedFilm

    film = SimulatedFilm(210, 150, _DPI, dmax=3.3)
    film.dot(70, 60, 60)
    film.text(40, 66, 18, "STAR", 800, ink=0.0)
    film.text(130, 60, 7, "Gold, one pass", 600)
    _marks(film, across=0.4, stretch=1.001)
    film.step_wedge(20, 130, 12)
    return film


def _marks(film, across=0.0, stretch=1.0) -> None:
    """Register crosses in the corners, shifted and stretched as a second print may be."""
    for corner_x, corner_y in ((6, 6), (204, 6), (6, 120), (204, 120)):
        x, y = 105 + (corner_x - 105) * stretch + across, 63 + (corner_y - 63) * stretch
        film.line([(x - 3, y), (x + 3, y)], 0.4)
        film.line([(x, y - 3), (x, y + 3)], 0.4)
