"""Photographs people hand in, drawn anew so that nothing else in the sent file is kept."""

import io

from django.core.files.base import ContentFile

from frimble.core.conclusions import InvalidInput

_SIDE = 1600
# A phone's JPEG is decoded at a fraction of its size; a PNG only whole, four bytes a pixel and more.
_MOST_PIXELS = {"JPEG": 210e6, "PNG": 40e6}


def require_size(upload, settings, field: str = "photo") -> None:
    """Refuse a photograph before it is read whole.

    Raises:
        InvalidInput: its file is larger than the house takes.
    """
    most = settings["photo.most_megabytes"]
    if upload.size > most * 1e6:
        raise InvalidInput(f"The photo has {upload.size / 1e6:.0f} MB; {most:g} MB at most are taken.", field)


def redrawn(upload, field: str) -> ContentFile:
    """A sent photograph as a JPEG of at most 1600 pixels a side.

    Raises:
        InvalidInput: not a JPEG or PNG, or one with too many pixels; beside `field`.
    """
    from PIL import Image, ImageOps, UnidentifiedImageError

    try:
        image = Image.open(io.BytesIO(upload.read()), formats=("JPEG", "PNG"))
        most = _MOST_PIXELS[image.format]
        if image.width * image.height > most:
            raise InvalidInput(
                f"The photograph has more than {most / 1e6:.0f} million pixels. Send a smaller one.", field
            )
        image.draft("RGB", (_SIDE, _SIDE))
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
