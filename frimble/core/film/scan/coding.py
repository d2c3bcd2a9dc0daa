"""How a scanner codes light: linear, or with the sRGB curve. Light is the share of white, 0..1."""

from collections.abc import Sequence

import numpy as np

from frimble.core.conclusions import InvalidInput

ENCODINGS: dict[str, str] = {"srgb": "sRGB curve", "linear": "linear"}


def light_of(codes: np.ndarray | Sequence[float], encoding: str, bits: int) -> np.ndarray:
    """Share of white for codes of any shape, float64; codes may be means and so need not be whole.

    Raises:
        InvalidInput: an unknown encoding.

    Source: IEC 61966-2-1, the sRGB transfer curve.
    """
    share = np.asarray(codes, float) / (2**bits - 1)
    if encoding == "linear":
        return np.asarray(share)
    _check(encoding)
    return np.asarray(np.where(share <= 0.04045, share / 12.92, ((share + 0.055) / 1.055) ** 2.4))


def codes_of(light: np.ndarray | float, encoding: str, bits: int) -> np.ndarray:
    """The inverse of `light_of`, not rounded."""
    share = np.asarray(light, np.float64)
    if encoding != "linear":
        _check(encoding)
        share = np.where(share <= 0.0031308, share * 12.92, 1.055 * np.maximum(share, 1e-12) ** (1 / 2.4) - 0.055)
    return np.asarray(share * (2**bits - 1))


def encode(light: np.ndarray, encoding: str, bits: int) -> np.ndarray:
    """Whole codes as a file holds them, uint8 or uint16, of light of any shape in 0..1."""
    dtype = np.uint8 if bits == 8 else np.uint16
    coded = np.empty(light.shape, dtype)
    for row in range(0, light.shape[0], 1024):
        coded[row : row + 1024] = np.rint(codes_of(light[row : row + 1024], encoding, bits))
    return coded


def _check(encoding: str) -> None:
    if encoding not in ENCODINGS:
        raise InvalidInput(f"“{encoding}” is not a coding: {', '.join(ENCODINGS)}.", "encoding")
