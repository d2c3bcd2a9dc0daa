"""Faults found on simulated photos of finished stencils, how many of what is reported are real, and how long it takes beside
a plain pipeline of general libraries: `python -m bench.stencil_photos [photos]`.
"""

import sys
import time
from dataclasses import replace

import cv2
import numpy as np

from frimble.core.photo.opening import open_photo
from frimble.core.settings import HouseSettings
from frimble.core.simulation.photo import COLOURS
from frimble.core.simulation.stencil_photo import USUAL_LIGHT, Fault, Shot, make_stencil, photograph
from frimble.core.stencil.inspection.comparing import Limits
from frimble.core.stencil.inspection.inspecting import inspect

_PHOTOS, _SEED, _DPI = 12, 300, 300.0
_PX_MM = _DPI / 25.4
_WORDS = ("QUAY FAIR", "Lugger Week", "Oyster & Eel", "Regatta", "NORTH PIER", "Salt Works")
_MESHES = (34, 43, 61, 77, 90, 120)


def artwork(rng) -> np.ndarray:
    """(h, w) bool, 200 by 260 mm: words, a ring, ruled lines, a wedge, a round-dot halftone, register marks."""
    black = np.zeros((round(260 * _PX_MM), round(200 * _PX_MM)), np.uint8)

    def px(*mm):
        return tuple(round(v * _PX_MM) for v in mm)

    for row in range(rng.integers(2, 4)):
        size, thick = _PX_MM * rng.uniform(0.9, 1.7), int(_PX_MM * rng.uniform(1.2, 3.2))
        font = cv2.FONT_HERSHEY_DUPLEX if row else cv2.FONT_HERSHEY_TRIPLEX
        cv2.putText(black, _WORDS[rng.integers(6)], px(12, 28 + 26 * row), font, size, 255, thick, cv2.LINE_AA)
    cv2.ellipse(black, px(60, 140), px(42, 30), rng.uniform(0, 180), 0, 360, 255, -1, cv2.LINE_AA)
    cv2.ellipse(black, px(60, 140), px(30, 20), rng.uniform(0, 180), 0, 360, 0, int(1.2 * _PX_MM), cv2.LINE_AA)
    cv2.rectangle(black, px(120, 110), px(185, 165), 255, -1)
    for k in range(6):
        cv2.line(black, px(125 + 9 * k, 113), px(128 + 9 * k, 162), 0, int((0.35 + 0.15 * k) * _PX_MM), cv2.LINE_AA)
    for k in range(8):
        cv2.line(black, px(15, 185 + 4 * k), px(95, 185 + 4 * k), 255, int((0.35 + 0.12 * k) * _PX_MM), cv2.LINE_AA)
    cv2.fillPoly(
        black, [np.array([px(110, 180), px(190, 190), px(170, 245), px(120, 235)], np.int32)], 255, cv2.LINE_AA
    )
    ys, xs = np.mgrid[0 : round(25 * _PX_MM), 0 : round(80 * _PX_MM)]
    turn = 2 * np.pi / (_PX_MM * 25.4 / 30) / np.sqrt(2)
    dots = (np.cos(turn * (xs + ys)) + np.cos(turn * (xs - ys))) / 4 + 0.5
    tone = np.linspace(0.15, 0.85, xs.shape[1])[None]
    top, left = px(222, 15)
    black[top : top + ys.shape[0], left : left + ys.shape[1]] = (dots < tone) * 255
    for x, y in ((6, 6), (194, 6), (6, 254), (194, 254)):
        cv2.line(black, px(x - 4, y), px(x + 4, y), 255, int(0.3 * _PX_MM))
        cv2.line(black, px(x, y - 4), px(x, y + 4), 255, int(0.3 * _PX_MM))
    return black > 127


def make_faults(film: np.ndarray, rng) -> list[Fault]:
    """Three pinholes, a hole, a chip at an edge, something closed, a patch of scum: at least 1.5 times the limits."""
    inside, outside = (
        cv2.distanceTransform(a.astype(np.uint8), cv2.DIST_L2, 3) / _PX_MM for a in (film, ~film)
    )  # fmt: skip

    def somewhere(at: np.ndarray) -> tuple[float, float]:
        ys, xs = np.nonzero(at)
        rim = 5 * _PX_MM
        keep = (xs > rim) & (xs < film.shape[1] - rim) & (ys > rim) & (ys < film.shape[0] - rim)
        k = rng.integers(int(keep.sum()))
        return xs[keep][k] / _PX_MM, ys[keep][k] / _PX_MM

    faults = []
    for _ in range(3):
        size = rng.uniform(0.45, 1.2)
        faults.append(Fault("pinhole", *somewhere(outside > size / 2 + 0.7), size))
    size = rng.uniform(3.2, 6)
    faults.append(Fault("breakdown", *somewhere(outside > size / 2 + 0.3), size))
    faults.append(Fault("breakdown", *somewhere((outside > 0.05) & (outside < 0.4)), rng.uniform(1.2, 2.5)))
    size = rng.uniform(0.6, 3)
    faults.append(Fault("blocked", *somewhere(inside > size / 2 + 0.2), size))
    faults.append(Fault("scum", *somewhere(inside > 2), rng.uniform(4, 12), rng.uniform(0.35, 0.7)))
    return faults


def make_shot(rng) -> Shot:
    """Any turn, tilted to 12°, either side, any colour, uneven light, blur, noise, JPEG."""
    return Shot(
        turn_deg=rng.uniform(0, 360),
        tilt_deg=rng.uniform(0, 12),
        tilt_towards_deg=rng.uniform(0, 360),
        mirrored=bool(rng.random() < 0.5),
        fills=rng.uniform(0.75, 0.95),
        colour=list(COLOURS.values())[rng.integers(5)],
        mesh_per_cm=_MESHES[rng.integers(6)],
        open_area=rng.uniform(0.3, 0.5),
        uneven=rng.uniform(0, 0.3),
        blur_px=rng.uniform(0.6, 1.8),
        noise=rng.uniform(0.003, 0.012),
        quality=int(rng.integers(80, 96)),
    )


def near(difference, fault, margin) -> bool:
    """Whether a finding lies at a fault."""
    reach = fault.size_mm / 2 + margin
    return bool(
        difference.x_mm - reach <= fault.x_mm <= difference.x_mm + difference.width_mm + reach
        and difference.y_mm - reach <= fault.y_mm <= difference.y_mm + difference.height_mm + reach
    )


def plain_pipeline(photo: np.ndarray, film: np.ndarray) -> int:
    """What one would write with general libraries: SIFT, a homography, Otsu. Gives the number of places that differ."""
    grey = cv2.cvtColor(photo, cv2.COLOR_RGB2GRAY)
    shapes, best = cv2.SIFT.create(), None
    seen = shapes.detectAndCompute(grey, None)
    for drawn in (film, np.ascontiguousarray(film[:, ::-1])):
        here = shapes.detectAndCompute(drawn.astype(np.uint8) * 255, None)
        pairs = cv2.BFMatcher().knnMatch(here[1], seen[1], k=2)
        good = [a for a, b in pairs if a.distance < 0.75 * b.distance]
        if best is None or len(good) > len(best[0]):
            best = good, here, drawn
    good, here, drawn = best
    there = np.array([here[0][m.queryIdx].pt for m in good], np.float32)
    found, _ = cv2.findHomography(there, np.array([seen[0][m.trainIdx].pt for m in good], np.float32), cv2.RANSAC)
    straight = cv2.warpPerspective(grey, np.linalg.inv(found), drawn.shape[::-1])
    _, light = cv2.threshold(straight, 0, 1, cv2.THRESH_BINARY | cv2.THRESH_OTSU)
    differs = cv2.morphologyEx((light != drawn).astype(np.uint8), cv2.MORPH_OPEN, np.ones((5, 5), np.uint8))
    return cv2.connectedComponents(differs)[0] - 1


def main(photos: int = _PHOTOS) -> None:
    cv2.setNumThreads(2)
    settings = HouseSettings()
    found, total, real, reported, seconds, plain = 0, 0, 0, 0, [], []
    for k in range(photos):
        rng = np.random.default_rng(_SEED + k)
        film = artwork(rng)
        faults = make_faults(film, rng)
        light = replace(USUAL_LIGHT, spread_um=rng.uniform(5, 35), time_s=USUAL_LIGHT.full_s * rng.uniform(1, 1.5))
        data = photograph(make_stencil(film, _PX_MM, faults, light), make_shot(rng), _SEED + k)
        photo = open_photo(data, settings)
        inspection = inspect(photo, film, _DPI, Limits())
        seconds.append(inspection.seconds)
        found += sum(any(near(d, f, 0.3) for d in inspection.findings) for f in faults)
        real += sum(any(near(d, f, 1.5) for f in faults) for d in inspection.findings)
        total, reported = total + len(faults), reported + len(inspection.findings)
        if k == 0:
            began = time.perf_counter()
            places = plain_pipeline(photo, film)
            plain = [time.perf_counter() - began, places]
    print(
        f"{photos} photos of 12 million pixels: faults found {found} of {total}, reported ones that are real {real} of "
        f"{reported}; {np.mean(seconds):.1f} s a photo, at most {max(seconds):.1f} s"
    )
    print(f"plain pipeline on the first: {plain[0] / seconds[0]:.1f} times as long, {plain[1]} places that differ")


if __name__ == "__main__":
    main(*(int(a) for a in sys.argv[1:]))
