"""Photographs kept with a design: what film, stencil and print looked like, for the next time it is made."""

import io

from django.core.files.base import ContentFile
from django.utils import timezone

from frimble.core.conclusion import OutOfRange
from frimble.jobs.models import Job, Photo
from frimble.people import standards

_SIDE = 1600


def keep_photo(job: Job, person, *, picture, shows, words="") -> Photo:
    """Store a photograph anew as a JPEG of at most 1600 pixels a side: nothing else in the sent file is kept.

    Raises:
        OutOfRange: not a picture, or one too large.
    """
    photo = Photo(job=job, shows=shows, words=words, at=timezone.now(), by=person)
    photo.picture.save("photo", ContentFile(_redrawn(picture.read())), save=False)
    photo.save()
    return photo


def _redrawn(data: bytes) -> bytes:
    from PIL import Image, ImageOps, UnidentifiedImageError

    most = standards.current()["film.most_megapixels"] * 1e6
    try:
        image = Image.open(io.BytesIO(data), formats=("JPEG", "PNG"))
        if image.width * image.height > most:
            raise OutOfRange("The photograph has too many pixels. Send a smaller one.", "picture")
        image = ImageOps.exif_transpose(image).convert("RGB")
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError):
        raise OutOfRange("That is not a photograph this can read. JPEG and PNG are accepted.", "picture") from None
    image.thumbnail((_SIDE, _SIDE))
    file = io.BytesIO()
    image.save(file, "JPEG", quality=85)
    return file.getvalue()
