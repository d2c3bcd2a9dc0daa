"""Photos of bare meshes by other laws than the simulation's: threads that beat with the pixels, a wooden frame that shines
through, hairs, emulsion left as rims of an old image, ghosts of dots and lines, a phone's own tone.

`python -m bench.other.bare_meshes [photos]` says what is found and what of it is real.
"""

import sys

import cv2
import numpy as np

from frimble.core.mesh.inspection.inspecting import inspect_mesh

_PHOTOS, _SEED, _PX_MM = 20, 82_000, 5.5
_SIZE_MM, _BAR_MM = (460.0, 560.0), 38.0


def _ghost(rng, high: int, wide: int) -> np.ndarray:
    """An old image: a wheel, ruled lines or dots."""
    image = np.zeros((high, wide), np.uint8)
    middle, radius = (wide // 2, high // 2), min(high, wide) // 2 - 2
    kind = rng.integers(3)
    if kind == 0:
        cv2.circle(image, middle, radius, 255, max(4, radius // 6), cv2.LINE_AA)
        for k in range(8):
            end = middle[0] + int(radius * np.cos(k * np.pi / 4)), middle[1] + int(radius * np.sin(k * np.pi / 4))
            cv2.line(image, middle, end, 255, max(3, radius // 12), cv2.LINE_AA)
    elif kind == 1:
        for y in range(10, high - 10, 28):
            cv2.line(image, (5, y), (wide - 5, y), 255, 12, cv2.LINE_AA)
    else:
        ys, xs = np.mgrid[0:high, 0:wide]
        image = ((np.sin(xs / 2.5) * np.sin(ys / 2.5) > -0.2) * 255).astype(np.uint8)
    return image.astype(np.float32) / 255


def make(rng):
    """(photo, truth): truth as kind and box in mm."""
    high, wide = round(_SIZE_MM[1] * _PX_MM), round(_SIZE_MM[0] * _PX_MM)
    light = np.full((high, wide, 3), rng.uniform(0.3, 0.6), np.float32)
    truth = []
    if rng.random() < 0.6:
        h, w = round(rng.uniform(120, 240) * _PX_MM), round(rng.uniform(120, 240) * _PX_MM)
        y, x = int(rng.integers(150, high - h - 100)), int(rng.integers(150, wide - w - 100))
        light[y : y + h, x : x + w] *= 1 - _ghost(rng, h, w)[..., None] * rng.uniform(0.06, 0.18) * rng.uniform(
            0.5, 1, 3
        )
        truth.append(("ghost", x, y, w, h))
    for _ in range(rng.integers(0, 4)):
        y, x = int(rng.integers(150, high - 250)), int(rng.integers(150, wide - 250))
        rim = np.zeros((high, wide), np.uint8)
        size = round(rng.uniform(5, 20) * _PX_MM)
        cv2.ellipse(rim, (x, y), (size // 2, size // 3), rng.uniform(0, 180), 0, rng.uniform(120, 300), 255,
                    round(rng.uniform(1.5, 4) * _PX_MM), cv2.LINE_AA)  # fmt: skip
        soft = cv2.GaussianBlur(rim, (0, 0), 2).astype(np.float32)[..., None] / 255
        light *= 1 - soft * rng.uniform(0.4, 0.85) * rng.permutation([1.0, 0.6, 0.25]).astype(np.float32)
        ys, xs = np.nonzero(rim > 127)
        truth.append(("residue", xs.min(), ys.min(), np.ptp(xs) + 1, np.ptp(ys) + 1))
    if rng.random() < 0.5:
        y, x = int(rng.integers(100, high - 100)), int(rng.integers(100, wide - 100))
        axes = round(rng.uniform(0.8, 2.5) * _PX_MM), round(rng.uniform(0.6, 1.2) * _PX_MM)
        cv2.ellipse(light, (x, y), axes, rng.uniform(0, 180), 0, 360, (1, 1, 1), -1, cv2.LINE_AA)
        truth.append(("hole", x - axes[0], y - axes[0], 2 * axes[0], 2 * axes[0]))
    _beat(light, rng)
    mm = [(k, *(v / _PX_MM for v in box)) for k, *box in truth]
    return _photo(light, rng), mm


def _beat(light: np.ndarray, rng) -> None:
    """Bands where threads and pixels beat, and a few hairs."""
    y, x = np.mgrid[0 : light.shape[0], 0 : light.shape[1]]
    turn, long = rng.uniform(0, np.pi), rng.uniform(6, 40)
    light *= 1 + rng.uniform(0, 0.03) * np.sin(2 * np.pi * (x * np.cos(turn) + y * np.sin(turn)) / long)[..., None]
    for _ in range(rng.integers(0, 5)):
        at = rng.uniform(100, 1500, 2)
        path = np.cumsum(np.vstack([at, rng.normal(0, 12, (10, 2)) + rng.normal(0, 8, 2)]), 0)
        cv2.polylines(light, [path.astype(np.int32)], False, (0.2, 0.2, 0.2), 1, cv2.LINE_AA)


def _photo(light: np.ndarray, rng) -> np.ndarray:
    bar = round(_BAR_MM * _PX_MM)
    wood = tuple(float(v) for v in np.array([0.05, 0.03, 0.02]) * rng.uniform(0.3, 1))
    sheet = cv2.copyMakeBorder(light, bar, bar, bar, bar, cv2.BORDER_CONSTANT, value=wood)
    high, wide = sheet.shape[:2]
    size = (3024, 4032)
    scale = min(size[0] / wide, size[1] / high) * rng.uniform(0.78, 0.98)
    x, y = (size[0] - wide * scale) / 2, (size[1] - high * scale) / 2
    corners = np.array([[x, y], [x + wide * scale, y], [x + wide * scale, y + high * scale], [x, y + high * scale]])
    at = np.array([[0, 0], [wide, 0], [wide, high], [0, high]], np.float32)
    laid = cv2.getPerspectiveTransform(at, (corners + rng.normal(0, 14, (4, 2))).astype(np.float32))
    outside = float(rng.choice([0.02, 0.3, 0.9]))
    seen = cv2.warpPerspective(sheet, laid, size, flags=cv2.INTER_AREA, borderValue=(outside,) * 3)
    ys, xs = np.mgrid[0 : size[1], 0 : size[0]].astype(np.float32)
    radius = ((xs / size[0] - 0.5) ** 2 + (ys / size[1] - 0.5) ** 2) * 2
    slope = rng.uniform(-0.25, 0.25) * (xs / size[0] - 0.5) + rng.uniform(-0.25, 0.25) * (ys / size[1] - 0.5)
    seen *= ((1 - rng.uniform(0, 0.3) * radius**2) * (1 + slope))[..., None] * rng.uniform(0.7, 1.3)
    seen = cv2.GaussianBlur(seen, (0, 0), rng.uniform(0.5, 1.5))
    seen = seen + rng.uniform(0, 0.7) * (seen - cv2.GaussianBlur(seen, (0, 0), 1.5))
    seen += rng.standard_normal(seen.shape).astype(np.float32) * rng.uniform(0.003, 0.012)
    toned = np.clip(seen, 0, 1) ** (1 / 2.2) * 255
    _, data = cv2.imencode(".jpg", toned.astype(np.uint8), [cv2.IMWRITE_JPEG_QUALITY, int(rng.integers(72, 95))])
    return np.ascontiguousarray(cv2.imdecode(data, cv2.IMREAD_COLOR)[:, :, ::-1])


def _meet(finding, box, margin: float = 4.0) -> bool:
    kind, x, y, w, h = box
    return (
        finding.kind == kind
        and finding.x < x + w + margin
        and x < finding.x + finding.width + margin
        and finding.y < y + h + margin
        and y < finding.y + finding.height + margin
    )


def main(photos: int) -> None:
    """Print the figures."""
    found = put = real = told = refused = 0
    slowest = 0.0
    for k in range(photos):
        photo, truth = make(np.random.default_rng(_SEED + k))
        answer = inspect_mesh(photo, _SIZE_MM)
        refused += bool(answer.refused)
        slowest = max(slowest, answer.seconds)
        found += sum(any(_meet(f, t) for f in answer.findings) for t in truth)
        put += len(truth)
        real += sum(any(_meet(f, t) for t in truth) for f in answer.findings)
        told += len(answer.findings)
    print(f"{photos} photos, {refused} refused: {found} of {put} found, {real} of {told} real, {slowest:.1f} s at most")


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else _PHOTOS)
