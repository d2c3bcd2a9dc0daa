"""Finding the step-test film's fiducials in a photo, and where on the photo each place of the film lies."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import cached_property

import cv2
import numpy as np
from cv2.aruco import DetectorParameters

from frimble.core.conclusions import RuleViolation
from frimble.core.exposure.target.drawing import DICTIONARY
from frimble.core.exposure.target.geometry import Fiducial, Target
from frimble.core.photo.lens import Camera, Lens, fitted_camera

# Markers are looked for at this width, and their corners set right at full size.
_LOOK_WIDTH = 1600
_ENOUGH, _FEWEST = 8, 3
_RIM = 40
_MOST_OFF_MM = 1.0
_SPAN = 0.5
# How well a marker's corner is seen.
_CORNER_OFF_PX = 2.0


@dataclass(frozen=True)
class Place:
    """Where the film lies on the photo.

    Attributes:
        picture: (rows, columns, 3) uint8 red, green, blue, turned over when it was mirrored.
        camera: where the picture shows places of the film.
        found: how many fiducials were used. off_mm: how far they lie from where they should, root mean square.
    """

    picture: np.ndarray
    camera: Camera
    found: int
    off_mm: float
    mirrored: bool

    def at(self, mm: np.ndarray) -> np.ndarray:
        """(n, 2) pixels of (n, 2) places on the film, mm."""
        return self.camera.seen(mm.reshape(-1, 2))

    @cached_property
    def pixels_per_mm(self) -> float:
        """Of the photo, in the middle of the sheet."""
        a, b, c = self.camera.seen(np.array([[130.0, 90.0], [140.0, 90.0], [130.0, 100.0]]))
        return float(np.sqrt(np.linalg.norm(b - a) * np.linalg.norm(c - a))) / 10


def find(picture: np.ndarray, target: Target) -> Place:
    """The film on a photo.

    Args:
        picture: (rows, columns, 3) uint8, red, green, blue.

    Raises:
        RuleViolation: too few of its fiducials are seen, or they do not lie as this film has them.
    """
    corners, turned, mirrored = _corners(picture, {f.number for f in target.fiducials})
    return _placed(turned, target, corners, mirrored)


def _corners(picture: np.ndarray, wanted: set[int]) -> tuple[dict[int, np.ndarray], np.ndarray, bool]:
    """(4, 2) corners of the wanted markers by number, the picture that they are of, and whether that is turned over.

    Raises:
        RuleViolation: too few are seen.
    """
    scale = min(1.0, _LOOK_WIDTH / max(picture.shape[:2]))
    seen = _markers(picture, scale)
    mirrored = max(seen, key=lambda way: len(wanted & set(seen[way])))
    mine = {n: marker for n, marker in seen[mirrored].items() if n in wanted}
    if len(mine) < _FEWEST:
        raise RuleViolation(_too_few(len(mine), len(set().union(*seen.values()) - wanted)))
    turned = np.ascontiguousarray(picture[:, ::-1]) if mirrored else picture
    return {n: _sharpened(turned, at, of, scale) for n, (at, of) in mine.items()}, turned, mirrored


def _too_few(mine: int, strange: int) -> str:
    if strange >= _FEWEST:
        return "The photo shows another step-test film: choose the geometry that was written with the film used."
    return (
        f"{mine or 'None'} of the film's square markers {'is' if mine == 1 else 'are'} seen; three at least are needed. "
        "Take the whole test from straight above, lit through on the light table, sharp, with nothing on it. On a test of "
        "which all has washed away, or all has closed, there are none to see."
    )


def _markers(picture: np.ndarray, scale: float) -> dict[bool, dict[int, tuple[np.ndarray, np.ndarray]]]:
    """(4, 2) corners at `scale` by number, with the weights of the shade that showed them: as it is, and mirrored.

    Every shade is looked at both ways before the next: most photos show all their markers in the first.
    """
    small = cv2.resize(picture, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA) if scale < 1 else picture
    detector = cv2.aruco.ArucoDetector(cv2.aruco.getPredefinedDictionary(DICTIONARY), _detection())
    seen: dict[bool, dict[int, tuple[np.ndarray, np.ndarray]]] = {False: {}, True: {}}
    for shade, of in _shades(small):
        rim = int(np.median(shade))
        for mirrored, markers in seen.items():
            # A film that fills the picture has its markers at the rim, where the detector does not look.
            looked_at = shade[:, ::-1] if mirrored else shade
            framed = cv2.copyMakeBorder(looked_at, _RIM, _RIM, _RIM, _RIM, cv2.BORDER_CONSTANT, value=rim)
            corners, numbers, _ = detector.detectMarkers(framed)
            for n, c in zip(numbers.ravel() if numbers is not None else (), corners, strict=True):
                markers.setdefault(int(n), (c.reshape(4, 2) - _RIM, of))
            if len(markers) >= _ENOUGH:
                return seen
    return seen


def _detection() -> DetectorParameters:
    given = cv2.aruco.DetectorParameters()
    given.adaptiveThreshWinSizeMin, given.adaptiveThreshWinSizeMax, given.adaptiveThreshWinSizeStep = 11, 91, 20
    given.adaptiveThreshConstant = 3
    given.minMarkerPerimeterRate = 0.05
    given.perspectiveRemovePixelPerCell = 8
    return given


def _shades(small: np.ndarray) -> Iterator[tuple[np.ndarray, np.ndarray]]:
    """Grey pictures with the weights of red, green and blue that made them: each channel, then what differs most."""
    spread = [float(small[::4, ::4, k].std()) for k in range(3)]
    for k in np.argsort(spread)[::-1]:
        weights = np.zeros(3)
        weights[k] = 1
        yield np.ascontiguousarray(small[:, :, k]), weights
    # Against a weak film's scum the emulsion's own colour stands out more than any one channel.
    flat = small[::4, ::4].reshape(-1, 3).astype(float)
    _, axes = np.linalg.eigh(np.cov(flat.T))
    for axis in (axes[:, 2], axes[:, 1]):
        weights = axis * (1 if axis.sum() > 0 else -1)
        yield _mixed(small, weights), weights


def _mixed(picture: np.ndarray, weights: np.ndarray) -> np.ndarray:
    mixed = picture.astype(np.float32) @ weights.astype(np.float32)
    low, high = np.percentile(mixed[::4, ::4], (0.5, 99.5))
    return np.asarray(np.clip((mixed - low) * (255 / max(high - low, 1e-6)), 0, 255).astype(np.uint8))


def _sharpened(picture: np.ndarray, corners: np.ndarray, weights: np.ndarray, scale: float) -> np.ndarray:
    """Corners at full size to a part of a pixel."""
    full = (corners + 0.5) / scale - 0.5
    side = float(np.linalg.norm(full[0] - full[1]))
    reach = max(3, round(side / 7 * 0.4))
    x0, y0 = np.maximum(np.floor(full.min(0) - 2 * reach - 2), 0).astype(int)
    x1, y1 = np.ceil(full.max(0) + 2 * reach + 3).astype(int)
    patch = picture[y0:y1, x0:x1]
    if not patch.size or min(patch.shape[:2]) < 4 * reach:
        return full
    at = (full - (x0, y0)).astype(np.float32).reshape(-1, 1, 2)
    stop = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_COUNT, 30, 0.01)
    moved = cv2.cornerSubPix(_mixed(patch, weights), at, (reach, reach), (-1, -1), stop).reshape(-1, 2) + np.array(
        [x0, y0]
    )
    return np.where(np.linalg.norm(moved - full, axis=1, keepdims=True) < 2 * reach, moved, full)


def _placed(picture: np.ndarray, target: Target, corners: dict[int, np.ndarray], mirrored: bool) -> Place:
    film = np.concatenate([_corners_mm(f) for f in target.fiducials if f.number in corners])
    photo = np.concatenate([corners[f.number] for f in target.fiducials if f.number in corners])
    first, inside = cv2.findHomography(film, photo, cv2.RANSAC, 0.01 * max(picture.shape[:2]))
    if first is None or inside.sum() < 4 * _FEWEST:
        raise RuleViolation(
            "The markers do not lie as this film has them: is this the geometry of the film that was used?"
        )
    keep = inside.ravel().astype(bool)
    _refuse_huddled(film[keep], target)
    camera = fitted_camera(film[keep], photo[keep], Camera(first, Lens.straight(picture.shape)), _CORNER_OFF_PX)
    place = Place(picture, camera, int(keep.sum()) // 4, 0.0, mirrored)
    off = place.at(film[keep]) - photo[keep]
    off_mm = float(np.sqrt((off**2).sum(1).mean())) / place.pixels_per_mm
    if off_mm > _MOST_OFF_MM:
        raise RuleViolation(
            f"The markers lie {off_mm:.1f} mm off where this film has them: another film, a curled one, or a printer that "
            "changed its proportions."
        )
    return replace(place, off_mm=off_mm)


def _corners_mm(box: Fiducial) -> np.ndarray:
    left, top = box.x_mm, box.y_mm
    right, low = left + box.width_mm, top + box.height_mm
    return np.array([[left, top], [right, top], [right, low], [left, low]])


def _refuse_huddled(film: np.ndarray, target: Target) -> None:
    wide, high = np.ptp(film[:, 0]) / target.width_mm, np.ptp(film[:, 1]) / target.height_mm
    if wide < _SPAN or high < _SPAN:
        raise RuleViolation(
            "The markers that can be seen all lie on one part of the film: the rest would be guessed. Show the whole test, "
            "with markers at its top and bottom and at both halves."
        )
