"""A sent photo of a mesh read: which mesh it is."""

from frimble.core.conclusions import require_between
from frimble.core.mesh.reading.answer import MeshReading
from frimble.core.mesh.reading.reading import LEAST_MEGAPIXELS, read_mesh
from frimble.people import settings as house_settings
from frimble.ui.photos import require_size


def read(photo, pixels_per_mm: float | None) -> MeshReading:
    """What the photo says; nothing of it is kept.

    Raises:
        InvalidInput: not a photo, too large a one, or a scale that cannot be.
    """
    from frimble.core.photo.opening import open_photo

    settings = house_settings.current()
    if pixels_per_mm is not None:
        require_between(pixels_per_mm, 1, 2000, "The scale, in pixels a mm,", "pixels_per_mm")
    require_size(photo, settings)
    return read_mesh(open_photo(photo.read(), settings, LEAST_MEGAPIXELS), settings, pixels_per_mm)
