"""Files offered as a photo: which are read, how they are turned, and what is said of the others."""

import io
import struct
import zlib

import numpy as np
from PIL import Image

from frimble.core.conclusions import InvalidInput
from frimble.core.photo.opening import open_photo
from frimble.core.testing.case import CoreCase

SIZE = (2000, 1400)
# Source: EXIF 2.3, tag 0x0112: 1 as it is, 3 upside down, 6 to be turned a quarter clockwise, 8 a quarter back.
ORIENTATION = 0x0112


def picture() -> Image.Image:
    """Grey with its upper left quarter red."""
    pixels = np.full((SIZE[1], SIZE[0], 3), 128, np.uint8)
    pixels[: SIZE[1] // 2, : SIZE[0] // 2] = (220, 30, 20)
    return Image.fromarray(pixels)


def encoded(kind: str, **options) -> bytes:
    out = io.BytesIO()
    picture().save(out, kind, **options)
    return out.getvalue()


def held(orientation: int) -> bytes:
    exif = Image.Exif()
    exif[ORIENTATION] = orientation
    return encoded("JPEG", exif=exif)


def png_head(width: int, height: int) -> bytes:
    """The signature, the header and a picture of no bytes. Source: the PNG specification, 5.3 and 11.2.2."""
    header = _chunk(b"IHDR", struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0))
    return b"\x89PNG\r\n\x1a\n" + header + _chunk(b"IDAT", b"")


def _chunk(kind: bytes, data: bytes) -> bytes:
    return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))


class OpeningTests(CoreCase):
    def opened(self, data: bytes) -> np.ndarray:
        return open_photo(data, self.house_settings)

    def refused(self, data: bytes) -> str:
        with self.assertRaises(InvalidInput) as raised:
            self.opened(data)
        self.assertEqual(raised.exception.field, "photo")
        return str(raised.exception)

    def red_quarter(self, data: bytes) -> tuple[str, str]:
        """Where the red quarter lies."""
        photo = self.opened(data).astype(int)
        red = photo[:, :, 0] - photo[:, :, 2] > 100
        rows, columns = np.nonzero(red)
        return (
            "upper" if rows.mean() < photo.shape[0] / 2 else "lower",
            "left" if columns.mean() < photo.shape[1] / 2 else "right",
        )

    def test_jpeg_png_and_webp_are_read_as_red_green_blue(self):
        for kind in ("JPEG", "PNG", "WEBP"):
            with self.subTest(kind):
                photo = self.opened(encoded(kind))
                self.assertEqual((photo.shape, photo.dtype), ((SIZE[1], SIZE[0], 3), np.uint8))
                red, green, blue = (int(v) for v in photo[100, 100])
                self.assertGreater(red, 200)
                self.assertLess(max(green, blue), 60)

    def test_a_photo_is_turned_as_the_camera_was_held(self):
        wanted = {
            1: ("upper", "left"),
            3: ("lower", "right"),
            6: ("upper", "right"),
            8: ("lower", "left"),
        }
        for orientation, place in wanted.items():
            with self.subTest(orientation):
                self.assertEqual(self.red_quarter(held(orientation)), place)

    def test_a_quarter_turn_changes_height_and_width(self):
        self.assertEqual(self.opened(held(6)).shape, (SIZE[0], SIZE[1], 3))

    def test_other_kinds_are_called_by_their_name(self):
        # Source: the formats' own signatures.
        for data, name in (
            (b"%PDF-1.7\n", "a PDF"),
            (b"II*\x00\x08\x00\x00\x00", "a TIFF"),
            (b"MM\x00*\x00\x00\x00\x08", "a TIFF"),
            (b"GIF89a", "a GIF"),
            (b"hello", "not a photo"),
            (b"", "not a photo"),
        ):
            with self.subTest(name):
                self.assertIn(name, self.refused(data))

    def test_a_phone_s_own_format_says_what_to_set(self):
        # Source: ISO 14496-12, the box "ftyp" follows its four bytes of length.
        self.assertIn("take its photos as JPEG", self.refused(b"\x00\x00\x00\x18ftypheic\x00\x00"))

    def test_a_photo_cut_short_asks_to_be_sent_again(self):
        self.assertIn("Send it again", self.refused(b"\xff\xd8\xff\xe0\x00\x10JFIF"))
        self.assertIn("Send it again", self.refused(encoded("PNG")[:20]))

    def test_size_is_judged_before_it_is_decoded(self):
        # The file holds no pixels: decoding it would fail with other words.
        most = self.house_settings["photo.most_megapixels"]
        side = int((most * 1e6) ** 0.5) + 10
        self.assertIn(f"more than {most:g} million", self.refused(png_head(side, side)))

    def test_a_small_copy_is_refused_with_what_to_send(self):
        self.assertIn("not a small copy", self.refused(png_head(320, 240)))
