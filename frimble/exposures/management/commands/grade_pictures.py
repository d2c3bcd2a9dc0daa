"""Redraw the pictures of what each grade looks like on the step-test film, by day and in amber."""

from pathlib import Path

from django.conf import settings
from django.core.management.base import BaseCommand

from frimble.core.settings import HouseSettings

FOLDER = Path(settings.BASE_DIR) / "frimble/exposures/static/exposures/grades"
# Seconds of a made-up stencil that is cured through at 20 and closes its fine openings at 45.
_SECONDS = {"under": 7.5, "short": 15.0, "good": 27.0, "closing": 62.0, "over": 150.0}
_DPI, _PER_MM = 600, 8


class Command(BaseCommand):
    help = "Redraw the pictures of the five grades from the simulated stencil."

    def handle(self, *args, **options):
        import cv2
        from PIL import Image

        from frimble.core.exposure.target import geometry, writers
        from frimble.core.simulation.photo import COLOURS, HiddenStencil, stencil_light
        from frimble.core.simulation.screen.light import spread_that_closes
        from frimble.ui.roomlight import png

        film = geometry.design(len(_SECONDS) * 2, _DPI, HouseSettings())
        coat = HiddenStencil(4.0, 5.0, spread_that_closes(150, 45 / 4), 2.4, 0.0, 0.05, COLOURS["green"])
        edges = [s.x_mm for s in film.steps] + [film.steps[-1].x_mm + film.steps[-1].width_mm]
        times = [t for t in _SECONDS.values() for _ in range(2)]
        light = stencil_light(writers.raster(film), _DPI, edges, times, coat)
        FOLDER.mkdir(parents=True, exist_ok=True)
        for k, grade in enumerate(_SECONDS):
            strip = film.steps[2 * k]
            px = 1 / film.pixel_mm
            part = light[
                round(18 * px) : round(112 * px), round(strip.x_mm * px) : round((strip.x_mm + strip.width_mm) * px)
            ]
            codes = (255 * (part / 65535.0) ** (1 / 2.2)).astype("uint8")
            scale = _PER_MM / px
            image = Image.fromarray(cv2.resize(codes, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA))
            for name, amber in (("day", False), ("amber", True)):
                (FOLDER / f"{grade}-{name}.png").write_bytes(png(image, amber))
        self.stdout.write(str(FOLDER))
