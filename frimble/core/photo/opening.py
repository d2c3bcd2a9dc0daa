"""Opening a phone photo: its kind told by its bytes, its size before it is decoded."""

from io import BytesIO

import cv2
import numpy as np
from PIL import Image, UnidentifiedImageError

from frimble.core.conclusions import InvalidInput, Settings

ACCEPTED = "JPEG, PNG and WebP are accepted"
_SIGNATURES = ((b"\xff\xd8\xff", "JPEG"), (b"\x89PNG\r\n\x1a\n", "PNG"))
_OTHERS = ((b"%PDF-", "a PDF"), (b"II*\x00", "a TIFF"), (b"MM\x00*", "a TIFF"), (b"GIF8", "a GIF"))


def open_photo(data: bytes, settings: Settings, least_megapixels: float | None = None) -> np.ndarray:
    """(rows, columns, 3) uint8 red, green, blue, turned as the camera says it was held.

    Args:
        least_megapixels: smaller photos are refused; what the house says without.

    Raises:
        InvalidInput: not a photo of a kind that can be read, cut short, too large or too small.
    """
    _check_kind(data)
    _check_size(data, settings, settings["photo.least_megapixels"] if least_megapixels is None else least_megapixels)
    picture = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR)
    if picture is None:
        raise _broken()
    return np.ascontiguousarray(picture[:, :, ::-1])


def _check_kind(data: bytes) -> None:
    if any(data.startswith(signature) for signature, _ in _SIGNATURES) or _is_webp(data):
        return
    if data[4:8] == b"ftyp":
        raise InvalidInput(
            f"This is an HEIC photo or a film: {ACCEPTED}. Set the phone's camera to take its photos as JPEG, or share the "
            "photo as JPEG.",
            "photo",
        )
    named = next((name for signature, name in _OTHERS if data.startswith(signature)), "not a photo")
    raise InvalidInput(f"This is {named}: {ACCEPTED}.", "photo")


def _is_webp(data: bytes) -> bool:
    return data[:4] == b"RIFF" and data[8:12] == b"WEBP"


def _check_size(data: bytes, settings: Settings, least: float) -> None:
    Image.MAX_IMAGE_PIXELS = None  # our own limit is asked, in our own words
    try:
        width, height = Image.open(BytesIO(data)).size
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError):
        raise _broken() from None
    most = settings["photo.most_megapixels"]
    if width * height > most * 1e6:
        raise InvalidInput(
            f"{width} × {height} pixels are more than {most:g} million. Set the camera to about 12 million pixels.",
            "photo",
        )
    if width * height < least * 1e6:
        raise InvalidInput(
            f"{width} × {height} pixels are fewer than {least:g} million: fine lines cannot be measured on it. Send the "
            "photo itself, not a small copy.",
            "photo",
        )


def _broken() -> InvalidInput:
    return InvalidInput("The photo begins like one but cannot be read: it may be cut short. Send it again.", "photo")
