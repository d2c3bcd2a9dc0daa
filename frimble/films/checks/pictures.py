"""What the film sheet shows of a scan: the whole, a corner at full resolution, density by cell."""

import io
import os
import time

from django.core.files.base import ContentFile

from frimble.core.units import MM_PER_INCH
from frimble.films.models import ScanCheck
from frimble.people import settings as house_settings
from frimble.ui.roomlight import png

# The sheet's picture has at most this many pixels a side; the loupe asks for the scan itself.
_PICTURE_SIDE = 1600


def picture(scan) -> bytes:
    from PIL import Image

    image = Image.fromarray(scan.grey())
    image.thumbnail((_PICTURE_SIDE, _PICTURE_SIDE))
    file = io.BytesIO()
    image.save(file, "PNG")
    return file.getvalue()


def whole(scan) -> bytes:
    """The grey picture unpacked, so that the loupe reads a corner of it without opening the whole scan."""
    import numpy as np

    file = io.BytesIO()
    np.save(file, scan.grey())
    return file.getvalue()


def density_map(reading) -> bytes:
    """Density of each cell in fiftieths, as a grey PNG the page reads under the pointer."""
    import numpy as np
    from PIL import Image

    file = io.BytesIO()
    Image.fromarray(np.clip(np.rint(reading.density * 50), 0, 255).astype(np.uint8)).save(file, "PNG")
    return file.getvalue()


def loupe(check: ScanCheck, x_mm: float, y_mm: float, side_mm: float, dark: bool) -> bytes:
    """A PNG of the scan at full resolution about a place; `dark` in amber for a room with live emulsion."""
    import numpy as np
    from PIL import Image

    grey = np.load(unpacked(check), mmap_mode="r")
    per_mm = check.result["dpi"] / MM_PER_INCH
    half = max(2, round(side_mm / 2 * per_mm))
    column, row = round(x_mm * per_mm), round(y_mm * per_mm)
    window = np.zeros((2 * half, 2 * half), np.uint8)
    top, left = max(0, row - half), max(0, column - half)
    part = grey[top : max(0, row + half), left : max(0, column + half)]
    down, across = top - (row - half), left - (column - half)
    window[down : down + part.shape[0], across : across + part.shape[1]] = part
    return png(Image.fromarray(window).resize((400, 400), Image.Resampling.NEAREST), dark)


def unpacked(check: ScanCheck) -> str:
    """Path of the unpacked scan, made again where it was cleared away."""
    from frimble.core.film.scan.opening import open_scan

    if not os.path.exists(check.detail.path):
        with check.scan.open() as file:
            scan = open_scan(file.read(), check.dpi, check.encoding, house_settings.current())
        check.detail.save("detail", ContentFile(whole(scan)))
    return check.detail.path


def clear_unpacked(unused_days: float) -> int:
    """Delete unpacked scans that no loupe has read for so many days; they can be made again. How many went."""
    oldest = time.time() - unused_days * 86_400
    gone = 0
    for check in ScanCheck.objects.exclude(detail=""):
        path = check.detail.path
        if os.path.exists(path) and os.stat(path).st_atime < oldest:
            os.remove(path)
            gone += 1
    return gone
