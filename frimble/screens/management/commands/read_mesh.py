"""Which mesh is this, from a close photo: the rules of `core.mesh.reading`."""

from pathlib import Path

from frimble.people import settings as house_settings
from frimble.ui.commands import AnswerCommand


class Command(AnswerCommand):
    help = "Read count, angle, opening and thread of a mesh from a close photo of it against light."

    def add_arguments(self, parser):
        super().add_arguments(parser)
        parser.add_argument("photo", type=Path)
        parser.add_argument(
            "--pixels-per-mm", type=float, help="scale of the photo; without it the printed scale strip must lie on it"
        )

    def answer(self, options):
        from frimble.core.conclusions import require_between
        from frimble.core.mesh.reading.answer import nearest
        from frimble.core.mesh.reading.reading import LEAST_MEGAPIXELS, read_mesh
        from frimble.core.photo.opening import open_photo

        settings, scale = house_settings.current_or_defaults(), options["pixels_per_mm"]
        if scale is not None:
            require_between(scale, 1, 2000, "The scale, in pixels a mm,", "pixels_per_mm")
        photo = open_photo(options["photo"].read_bytes(), settings, LEAST_MEGAPIXELS)
        reading = read_mesh(photo, settings, scale)
        names = nearest(reading)
        return _plain(reading, names), _sentences(reading, names)


_NUMBERS = (
    ("count_per_cm", 3),
    ("count_low", 3),
    ("count_high", 3),
    ("angle_deg", 2),
    ("opening_um", 1),
    ("thread_um", 1),
)


def _plain(reading, names) -> dict:
    values = {name: getattr(reading, name) for name, _ in _NUMBERS}
    rounded = {n: None if values[n] is None else round(values[n], digits) for n, digits in _NUMBERS}
    return {"refused": reading.refused or None, **rounded, "nearest": names, "rests_on": reading.rests_on or None}


def _sentences(reading, names) -> str:
    if reading.refused:
        return f"Refused: {reading.refused}"
    said = f"{reading.count_per_cm:.1f} threads per cm ({reading.count_low:.1f} to {reading.count_high:.1f})"
    slit = f", opening {reading.opening_um:.0f} µm, thread {reading.thread_um:.0f} µm" if reading.opening_um else ""
    near = f" Nearest: {', '.join(names)}." if names else ""
    return f"{said}, turned by {reading.angle_deg:.1f}°{slit}.{near} It rests on {reading.rests_on}."
