"""A small film and photos of its stencil, made once for the tests."""

from functools import cache

import cv2
import numpy as np

from frimble.core.simulation.stencil_photo import Fault, Shot, make_stencil, photograph

DPI = 300.0
PX_MM = DPI / 25.4
# What was put into the stencil: each 1.5 times the limits or more, and where nothing else lies.
FAULTS = (
    Fault("pinhole", 55.0, 30.0, 0.5),
    Fault("pinhole", 12.0, 66.0, 0.8),
    Fault("breakdown", 60.0, 66.0, 3.4),
    Fault("blocked", 30.0, 48.0, 1.2),
    Fault("scum", 66.0, 84.0, 6.0, 0.5),
)
SHOT = Shot(turn_deg=200, tilt_deg=9, tilt_towards_deg=70, mirrored=True, fills=0.9, size=(2200, 1700), mesh_per_cm=61)


@cache
def film() -> np.ndarray:
    """(h, w) bool, 90 by 110 mm: words, a ring, lines, a wedge."""
    black = np.zeros((round(110 * PX_MM), round(90 * PX_MM)), np.uint8)

    def px(*mm: float) -> tuple[int, ...]:
        return tuple(round(v * PX_MM) for v in mm)

    cv2.putText(black, "Quay", px(6, 20), cv2.FONT_HERSHEY_TRIPLEX, 5.5, 255, 16, cv2.LINE_AA)
    cv2.ellipse(black, px(30, 48), px(20, 15), 20, 0, 360, 255, -1, cv2.LINE_AA)
    cv2.ellipse(black, px(36, 46), px(5, 4), 0, 0, 360, 0, -1, cv2.LINE_AA)
    for k in range(5):
        cv2.line(black, px(58, 38 + 4 * k), px(84, 40 + 4 * k), 255, round((0.5 + 0.2 * k) * PX_MM), cv2.LINE_AA)
    wedge = np.array([px(50, 74), px(84, 78), px(78, 104), px(54, 100)], np.int32)
    cv2.fillPoly(black, [wedge], 255, cv2.LINE_AA)
    cv2.rectangle(black, px(8, 80), px(38, 102), 255, -1)
    cv2.rectangle(black, px(14, 86), px(24, 98), 0, -1)
    return black > 127


@cache
def photo(shot: Shot = SHOT, faults: tuple[Fault, ...] = FAULTS) -> bytes:
    return photograph(make_stencil(film(), PX_MM, faults), shot, seed=4)


def opened(data: bytes) -> np.ndarray:
    return np.ascontiguousarray(cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR)[:, :, ::-1])
