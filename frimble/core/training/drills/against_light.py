"""What a stencil looks like against the light, as grey: mesh through its openings, a little through the coat."""

import random

import numpy as np
import numpy.typing as npt

OPENING_UM, PITCH_UM = 81.0, 130.0
_CLOTH, _COAT, _SCUM, _FRAYED = 0.55, 0.13, 0.42, 0.4
_FRAYED_SHARE, _NOISE = 0.04, 0.02

Grey = npt.NDArray[np.uint8]
Mask = npt.NDArray[np.bool_]


def against_light(open_: Mask, px_mm: float, rng: random.Random, scum: Mask | None = None, frays: bool = False) -> Grey:
    """(h, w) grey of a stencil.

    Args:
        open_: (h, w) where it is open. px_mm: pixels a mm. scum: where a thin film closes. frays: what stands has gaps.
    """
    draws = np.random.default_rng(rng.randrange(1 << 30))
    y, x = np.mgrid[0 : open_.shape[0], 0 : open_.shape[1]] / px_mm * 1000 % PITCH_UM
    light = np.where(open_, np.where((x < OPENING_UM) & (y < OPENING_UM), 1.0, _CLOTH), _COAT)
    if scum is not None:
        light = np.where(scum, np.minimum(light, _SCUM), light)
    if frays:
        light = np.where(~open_ & (draws.random(open_.shape) < _FRAYED_SHARE), _FRAYED, light)
    light += draws.normal(0, _NOISE, open_.shape)
    return np.asarray(np.clip(light * 255, 0, 255), np.uint8)
