"""Photos of rinsed step tests: read, kept with what was read, and taken over as a reading."""

import io

from django.core.files.base import ContentFile
from django.db import transaction
from django.utils import timezone

from frimble.core.conclusions import RuleViolation
from frimble.exposures.models import StepPhoto, StepTest, TestReading
from frimble.exposures.steptests.photo.queries import film_of, result_of
from frimble.exposures.steptests.reading import services as reading_services
from frimble.people import settings as house_settings
from frimble.ui.photos import require_size

# The straightened photo is kept as fine as it was measured, and shown whole no finer than a page can.
_KEPT_SIDE = 4000


def read(test: StepTest, person, *, photo, dpi: int, scale_bar_mm: float, wanted_um: float) -> StepPhoto:
    """Read a photo of a test and keep both; a refusal is kept with its reason.

    Raises:
        RuleViolation: the test is not exposed, or spoiled.
        InvalidInput: not a photo, or a film that was printed at another size.
    """
    # The image libraries load with the first photo, not with the first page.
    from frimble.core.exposure.photo.concluding import to_plain
    from frimble.core.exposure.photo.reading import read_photo

    if test.status != StepTest.Status.EXPOSED:
        raise RuleViolation(f"This test is {test.get_status_display()}: it cannot be read.")
    data, settings = _bytes_of(photo), house_settings.current()
    reading = read_photo(data, film_of(test, dpi), test.times_s, wanted_um, settings, scale_bar_mm)
    stored = StepPhoto(
        step_test=test,
        dpi=dpi,
        scale_bar_mm=scale_bar_mm,
        wanted_opening_um=wanted_um,
        by=person,
        at=timezone.now(),
        result=to_plain(reading.reading),
        refused=reading.reading.refused[:500],
    )
    with transaction.atomic():
        stored.photo.save("photo", ContentFile(data), save=False)
        if reading.straight:
            stored.straight.save("straight", ContentFile(_jpeg(reading.straight.picture)), save=False)
        stored.save()
    return stored


def simulated(test: StepTest, dpi: int):
    """A photo by the simulated camera, of a stencil whose hidden constants are the same each time for one test."""
    import random

    from frimble.core.exposure.target.writers import raster
    from frimble.core.simulation.photo import (
        COLOURS,
        HiddenStencil,
        PhoneCamera,
        photograph,
        stencil_light,
    )
    from frimble.core.simulation.screen.light import spread_that_closes

    rng, film = random.Random(test.pk), film_of(test, dpi)
    # A strip whose card move was not tapped got what was planned.
    real = [p if r is None else r for p, r in zip(test.planned_times_s, test.times_s, strict=True)]
    times = sorted(real)
    # As after a fair guess: full cure near the third shortest step, 150 µm closing near the third longest.
    full = times[2] * rng.uniform(0.9, 1.05)
    coat = HiddenStencil(
        full / 5,
        5.0,
        spread_that_closes(150, times[-3] / full * 5),
        3.0,
        0.04,
        0.0,
        rng.choice(list(COLOURS.values())),
    )
    edges = [s.x_mm for s in film.steps] + [film.steps[-1].x_mm + film.steps[-1].width_mm]
    camera = PhoneCamera(tilt_deg=(rng.uniform(-6, 6), rng.uniform(-6, 6)), turn_deg=rng.uniform(-5, 5))
    lit = stencil_light(raster(film), dpi, edges, real, coat)
    return ContentFile(photograph(lit, camera, test.pk), "photo.jpg")


def _bytes_of(photo) -> bytes:
    require_size(photo, house_settings.current())
    return photo.read()


def _jpeg(picture) -> bytes:
    from PIL import Image

    file, image = io.BytesIO(), Image.fromarray(picture)
    image.thumbnail((_KEPT_SIDE, _KEPT_SIDE))
    image.save(file, "JPEG", quality=88)
    return file.getvalue()


def take_over(photo: StepPhoto, person, grades: dict[int, str], school: str) -> TestReading:
    """Make a photo's grades, as corrected by hand, a reading of its test.

    Raises:
        RuleViolation: the photo could not be read.
    """
    from dataclasses import replace

    from frimble.core.exposure.photo.concluding import as_grades

    steps = [replace(s, grade=grades.get(s.strip, s.grade)) for s in as_grades(result_of(photo))]
    if not steps:
        raise RuleViolation("Nothing was read off this photo: read the test by eye.")
    # A step that was set right by hand keeps nothing of what the photo said of it.
    steps = [replace(s, finest_opening_um=None) if s.strip in grades else s for s in steps]
    return reading_services.read_test(photo.step_test, steps, school, photo.wanted_opening_um, person, photo=photo)
