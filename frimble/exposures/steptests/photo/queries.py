"""What was read off a photo of a step test, and two steps at one scale."""

from dataclasses import dataclass

from frimble.core.conclusions import InvalidInput
from frimble.exposures.models import StepPhoto, StepTest, TestReading
from frimble.people import settings as house_settings

_SHOWN_SIDE = 1800


def film_of(test: StepTest, dpi: int):
    """The geometry of the shop's step-test film with as many steps as the test has."""
    from frimble.core.exposure.target.geometry import design

    return design(len(test.times_s), dpi, house_settings.current())


def whole(image):
    """The straightened photo as a page shows it."""
    image.thumbnail((_SHOWN_SIDE, _SHOWN_SIDE))
    return image


def strip_of(image, film, index: int):
    """One step of the straightened photo, as fine as it is."""
    per_mm, strip = image.width / film.width_mm, film.steps[index - 1]
    left, right = (round(x * per_mm) for x in (strip.x_mm, strip.x_mm + strip.width_mm))
    return image.crop((left, 0, right, image.height))


def result_of(photo: StepPhoto):
    """What was read off a photo."""
    from frimble.core.exposure.photo.concluding import from_plain

    return from_plain(photo.result)


def not_taken_over(test: StepTest) -> StepPhoto | None:
    """The newest photo of a test that was read but not made a reading yet."""
    return test.photos.filter(refused="", readings=None).first() if test.has_target_film else None


def corrected(reading: TestReading) -> bool:
    """Whether a reading that came from a photo says otherwise than the photo."""
    said = {s["index"]: s["verdict"] for s in reading.photo.result["steps"]}
    return any(said.get(s.strip) != s.grade for s in reading.steps.all())


@dataclass(frozen=True)
class Pair:
    """Two steps at one scale: of which photo, which step, and what was measured on both."""

    photos: tuple[StepPhoto, StepPhoto]
    steps: tuple
    widths_mm: tuple[float, float]
    height_mm: float
    sizes: list[tuple]


def pair(one: StepPhoto, a: int, other: StepPhoto, b: int) -> Pair:
    """Two photographed steps against each other.

    Raises:
        InvalidInput: no such step, or films that are drawn otherwise.
    """
    from frimble.core.exposure.photo.sizes import sizes

    sides = []
    for name, photo, index in (("a", one, a), ("b", other, b)):
        steps = result_of(photo).steps
        step = next((s for s in steps if s.index == index), None)
        if step is None:
            raise InvalidInput(
                f"{photo.step_test} has steps 1 to {len(photo.step_test.times_s)}; step {index} was not read.", name
            )
        sides.append((step, film_of(photo.step_test, photo.dpi)))
    (step, film), (second, other_film) = sides
    if (film.dpi, film.opening_widths_um) != (other_film.dpi, other_film.opening_widths_um):
        raise InvalidInput(
            "The two films were printed at different dpi: their lines cannot be set side by side.", "other"
        )
    rows = list(zip(sizes(step, film), sizes(second, other_film), strict=True))
    return Pair(
        (one, other),
        (step, second),
        (film.steps[a - 1].width_mm, other_film.steps[b - 1].width_mm),
        film.height_mm,
        rows,
    )
