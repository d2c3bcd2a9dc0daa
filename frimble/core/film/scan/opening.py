"""Opening what people call a scan: the type is told by content, the size before decoding, and every choice is stated."""

from dataclasses import dataclass
from io import BytesIO

import cv2
import numpy as np
import pypdfium2
import tifffile
from PIL import Image, UnidentifiedImageError
from tifffile.tifffile import TiffPage

from frimble.core.conclusions import InvalidInput, Settings
from frimble.core.film.scan.grid import Scan
from frimble.core.film.scan.vectors import Detail, details_of
from frimble.core.units import MM_PER_INCH

# Sniffed from the first bytes; a name or a declared type is never believed.
_SIGNATURES = (
    (b"\x89PNG\r\n\x1a\n", "PNG"), (b"\xff\xd8\xff", "JPEG"), (b"II*\x00", "TIFF"), (b"MM\x00*", "TIFF"),
    (b"II+\x00", "TIFF"), (b"MM\x00+", "TIFF"), (b"%PDF-", "PDF"),
)  # fmt: skip


@dataclass(frozen=True)
class OpenedScan:
    """Grey codes (rows, columns), the resolution the file claims or None, and what was chosen on the way."""

    codes: np.ndarray
    dpi: float | None
    notes: tuple[str, ...]
    artwork: bool = False
    details: tuple[Detail, ...] = ()


def open_scan(data: bytes, dpi: float | None, encoding: str, settings: Settings) -> Scan:
    """A scan from a file's bytes.

    Args:
        dpi: resolution as given, or None to take the file's own. encoding: "srgb" or "linear"; artwork that is rendered
            here (PDF, 1 bit) is black and white and needs none.

    Raises:
        InvalidInput: not a picture, cut short, too large, too small, or no believable resolution.
    """
    kind = kind_of(data)
    if kind == "PDF":
        resolution = _believable(dpi or settings["film.render_dpi"], settings)
        opened = _render_pdf(data, resolution, settings)
    else:
        opened = _OPENERS[kind](data, settings)
        resolution = _believable(dpi or opened.dpi, settings)
    notes = list(opened.notes)
    if not dpi and kind != "PDF":
        notes.append(f"Resolution of {resolution:g} dpi taken from the file.")
    if opened.artwork:
        notes.append(
            f"Artwork, not a scan: densities are not known from it. One pixel is {MM_PER_INCH / resolution:.3f} mm, "
            f"so a line's width is true to ± {MM_PER_INCH / resolution:.3f} mm."
        )
    codes = np.ascontiguousarray(opened.codes)
    return Scan(codes, resolution, encoding, tuple(notes), opened.artwork, opened.details)


def kind_of(data: bytes) -> str:
    """Which of the formats the bytes begin as.

    Raises:
        InvalidInput: none of them.
    """
    for signature, kind in _SIGNATURES:
        if data.startswith(signature):
            return kind
    raise InvalidInput("That is not a picture this can read. PNG, TIFF, JPEG and PDF are accepted.", "scan")


def _believable(dpi: float | None, settings: Settings) -> float:
    low, high = settings["film.least_dpi"], settings["film.most_dpi"]
    if dpi is None:
        raise InvalidInput("The file does not say its resolution: type it, in dots per inch.", "dpi")
    if not low <= dpi <= high:
        raise InvalidInput(f"A resolution of {dpi:g} dpi is not between {low:g} and {high:g}.", "dpi")
    return float(dpi)


def _guard_size(width: int, height: int, settings: Settings) -> None:
    most = settings["film.most_megapixels"] * 1e6
    if width * height > most:
        raise InvalidInput(
            f"{width} × {height} pixels are more than {most / 1e6:.0f} million. Scan the film in parts or at a lower "
            "resolution.",
            "scan",
        )
    if width < 16 or height < 16:
        raise InvalidInput(f"{width} × {height} pixels are too few for a film.", "scan")


def _header(data: bytes, settings: Settings) -> tuple[Image.Image, float | None]:
    """Pillow's view of the file without its pixels, and the resolution it claims."""
    Image.MAX_IMAGE_PIXELS = None  # our own limit is asked, in our own words
    try:
        image = Image.open(BytesIO(data))
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError) as error:
        raise InvalidInput(
            "The file begins like a picture but cannot be read as one. Scan it again, or save it as PNG or TIFF.",
            "scan",
        ) from error
    _guard_size(*image.size, settings)
    claimed = image.info.get("dpi", (None,))[0]
    return image, float(claimed) if claimed and claimed > 1 else None


def _open_raster(data: bytes, settings: Settings) -> OpenedScan:
    image, dpi = _header(data, settings)
    notes = []
    if image.mode == "CMYK":
        notes.append("CMYK: its four inks were laid over each other and read as grey.")
    elif image.mode not in ("1", "L", "LA", "I;16", "I;16B", "I"):
        notes.append("Colour: the green channel was read, the eye's own.")
    _must_be_whole(image, data)
    decoded = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_UNCHANGED | cv2.IMREAD_IGNORE_ORIENTATION)
    if decoded is None or image.mode == "CMYK":
        decoded = np.asarray(image.convert("L"))
    return OpenedScan(_one_channel(decoded), dpi, tuple(notes), artwork=image.mode == "1")


def _must_be_whole(image: Image.Image, data: bytes) -> None:
    """Let a reader that complains of missing rows see the pixels of smaller files; large ones are judged by their end."""
    ends = {"PNG": b"IEND", "JPEG": b"\xff\xd9"}.get(image.format or "")
    if ends and ends not in data[-64:]:
        raise InvalidInput("The picture is cut short: its end is missing. Copy or send it again.", "scan")


def _open_tiff(data: bytes, settings: Settings) -> OpenedScan:
    try:
        with tifffile.TiffFile(BytesIO(data)) as file:
            page = file.pages.first
            _guard_size(page.imagewidth, page.imagelength, settings)
            notes = _tiff_notes(page, len(file.pages))
            dpi = _tiff_dpi(page)
            # LZW and the like need a codec package; Pillow brings its own.
            plain = page.compression in (1, 8, 32946, 32773)
            codes = page.asarray() if plain else None
    except InvalidInput:
        raise
    except Exception as error:
        raise InvalidInput("The TIFF cannot be read: it is damaged or cut short.", "scan") from error
    if codes is None:
        codes = _with_pillow(data)
    if codes.dtype == bool or codes.max(initial=0) <= 1:
        codes = codes.astype(np.uint8) * 255
    if codes.dtype.kind == "f":
        codes = np.rint(np.clip(codes, 0, 1) * 65535).astype(np.uint16)
        notes.append("Floating point: 0 was taken as no light, 1 as white.")
    if page.photometric == 5:
        codes = _from_inks(codes)
    elif page.photometric == 0:
        codes = np.iinfo(codes.dtype).max - codes
    return OpenedScan(_one_channel(codes), dpi, tuple(notes), artwork=page.bitspersample == 1)


def _tiff_notes(page: TiffPage, pages: int) -> list[str]:
    notes = []
    if pages > 1:
        notes.append(f"{pages} pages: the first was checked.")
    if page.photometric == 5:
        notes.append("CMYK: its four inks were laid over each other and read as grey.")
    elif page.samplesperpixel >= 3:
        notes.append("Colour: the green channel was read, the eye's own.")
    return notes


def _tiff_dpi(page: TiffPage) -> float | None:
    try:
        up, down = page.tags["XResolution"].value
        per = MM_PER_INCH / 10 if page.tags.get("ResolutionUnit") and page.tags["ResolutionUnit"].value == 3 else 1
        dpi = up / down * per
    except (KeyError, ZeroDivisionError, TypeError, ValueError):
        return None
    return float(dpi) if dpi > 1 else None


def _with_pillow(data: bytes) -> np.ndarray:
    try:
        image = Image.open(BytesIO(data))
        image.load()
    except Exception as error:
        raise InvalidInput("The TIFF cannot be read: it is damaged or cut short.", "scan") from error
    return np.asarray(image)


def _one_channel(decoded: np.ndarray) -> np.ndarray:
    """Grey codes of eight or sixteen bits; the green of three channels."""
    if decoded.ndim == 3:
        decoded = decoded[:, :, 1 if decoded.shape[2] >= 3 else 0]
    if decoded.dtype == np.uint8:
        return decoded
    if decoded.dtype == np.uint16:
        return decoded.astype(np.uint16)
    if decoded.dtype.kind == "u" or decoded.dtype.kind == "i":
        return (decoded.astype(np.float64) / np.iinfo(decoded.dtype).max * 65535).astype(np.uint16)
    raise InvalidInput(f"Pixels of the type {decoded.dtype} cannot be read as grey.", "scan")


def _from_inks(codes: np.ndarray) -> np.ndarray:
    most = np.iinfo(codes.dtype).max
    light = 1 - codes[:, :, :4].astype(np.float32) / most
    return np.asarray(np.rint(light.prod(axis=2) * most).astype(codes.dtype))


def _render_pdf(data: bytes, dpi: float, settings: Settings) -> OpenedScan:
    try:
        document = pypdfium2.PdfDocument(data)
        pages = len(document)
        page = document[0]
        width, height = page.get_size()
        _guard_size(round(width / 72 * dpi), round(height / 72 * dpi), settings)
        codes = page.render(scale=dpi / 72, grayscale=True).to_numpy()
        details = details_of(page)
    except pypdfium2.PdfiumError as error:
        raise InvalidInput("The PDF cannot be read: it is damaged, cut short or locked.", "scan") from error
    notes = [f"Rendered at {dpi:g} dpi; the file's own lines and words were measured as they are drawn."]
    if pages > 1:
        notes.append(f"{pages} pages: the first was checked.")
    return OpenedScan(_one_channel(codes.squeeze()), dpi, tuple(notes), artwork=True, details=details)


_OPENERS = {"PNG": _open_raster, "JPEG": _open_raster, "TIFF": _open_tiff}
