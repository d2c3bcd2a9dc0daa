"""Photographs people hand in, drawn anew so that nothing else in the sent file is kept."""

import io

from django.core.files.base import ContentFile

from frimble.core.conclusions import InvalidInput

_SIDE = 1600
_MOST_PIXELS = 120e6


def redrawn(upload, field: str) -> ContentFile:
    """A sent photograph as a JPEG of at most 1600 pixels a side.

    Raises:
        InvalidInput: not a JPEG or PNG, or one with too many pixels; beside `field`.
    """
    from PIL import Image, ImageOps, UnidentifiedImageError

    try:
        image = Image.open(io.BytesIO(upload.read()), formats=("JPEG", "PNG"))
        if image.width * image.height > _MOST_PIXELS:
            raise InvalidInput("The photograph has too many pixels. Send a smaller one.", field)
        image = ImageOps.exif_transpose(image).convert("RGB")
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError) as error:
        if isinstance(error, InvalidInput):
            raise
        raise InvalidInput("That is not a photograph this can read. JPEG and PNG are accepted.", field) from None
    image.thumbnail((_SIDE, _SIDE))
    image.info.clear()  # comments and the like would be written out again
    file = io.BytesIO()
    image.save(file, "JPEG", quality=85)
    return ContentFile(file.getvalue())
