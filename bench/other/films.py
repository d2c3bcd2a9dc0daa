"""Film scans of other laws: tailed lens, shot noise, uneven columns, a drive that slips, plain gamma, grainy black, holes
and scratches of no regular shape. What is found of what was put in, how much of what is found is real, and the black.
"""

import itertools
from dataclasses import dataclass, field

import cv2
import numpy as np

from frimble.core.film.check import check_scan
from frimble.core.film.findings import limits_for
from frimble.core.film.scan.grid import Scan
from frimble.core.film.wedge.definition import Wedge

_SHEETS, _SEED = 12, 90_000
_WIDTH_MM, _HEIGHT_MM = 110, 150
_FINER = 2  # drawn at twice the scan's resolution
_WEDGE_MM = (8.0, 136.0, 9.0)
_WEDGE = tuple(0.04 + 0.3 * k for k in range(10))
_SCORED = {"pinhole": ("pinhole", "scratch"), "scratch": ("scratch", "pinhole"), "weak_area": ("weak_area", "banding")}
_BITS = 4


@dataclass
class Sheet:
    """Ink 0..1 and the black's own density over the sheet, pixels of `scale` a mm; what was put in, by kind and box, mm."""

    scale: float
    black: float
    clear: float
    ink: np.ndarray
    density: np.ndarray
    faults: list[tuple[str, float, float, float, float]] = field(default_factory=list)

    def px(self, *mm: float) -> tuple[int, ...]:
        """Positions as OpenCV takes them, with fractional bits."""
        return tuple(round(v * self.scale * 2**_BITS) for v in mm)

    def oval(self, at, axes, turn, ink) -> None:
        drawn = np.zeros_like(self.ink)
        cv2.ellipse(drawn, self.px(*at), self.px(*axes), turn, 0, 360, 1.0, -1, cv2.LINE_AA, _BITS)
        self.ink = self.ink * (1 - drawn) + ink * drawn


def _blank(rng, dpi) -> Sheet:
    scale = dpi * _FINER / 25.4
    shape = (round(_HEIGHT_MM * scale), round(_WIDTH_MM * scale))
    black = float(rng.uniform(1.9, 3.2))
    return Sheet(
        scale, black, float(rng.uniform(0.03, 0.09)), np.zeros(shape, np.float32), np.full(shape, black, np.float32)
    )


def _artwork(sheet, rng) -> None:
    """A lozenge and a bar of black, words with serifs, drawn and reversed lines, an elliptical halftone."""
    corners = np.array([sheet.px(*p) for p in ((8, 40), (50, 8), (98, 40), (50, 66))], np.int32)
    cv2.fillPoly(sheet.ink, [corners], 1.0, cv2.LINE_AA, _BITS)
    cv2.rectangle(sheet.ink, sheet.px(8, 72), sheet.px(60, 100), 1.0, -1, cv2.LINE_AA, _BITS)
    for row, words in enumerate(("Quay fair", "Oyster & eel")):
        at = tuple(round(v * sheet.scale) for v in (8, 112 + 11 * row))
        drawn = np.zeros(sheet.ink.shape, np.uint8)
        thick = round(0.7 * sheet.scale)
        cv2.putText(drawn, words, at, cv2.FONT_HERSHEY_COMPLEX, 0.28 * sheet.scale, 255, thick, cv2.LINE_AA)
        sheet.ink = np.maximum(sheet.ink, drawn / np.float32(255))
    for row in range(4):
        y = 76 + 6 * row
        cv2.line(
            sheet.ink,
            sheet.px(66, y),
            sheet.px(102, y + 1),
            1.0,
            round((0.6 + 0.2 * row) * sheet.scale),
            cv2.LINE_AA,
            _BITS,
        )
        cv2.line(
            sheet.ink,
            sheet.px(36, 75 + 6 * row),
            sheet.px(57, 76 + 6 * row),
            0.0,
            round(0.8 * sheet.scale),
            cv2.LINE_AA,
            _BITS,
        )
    _halftone(sheet, (68, 104, 34, 26), 35.0, float(rng.uniform(10, 40)), float(rng.uniform(0.35, 0.6)))


def _halftone(sheet, box, lpi, angle, level) -> None:
    x, y, width, height = (round(v * sheet.scale) for v in box)
    rows, columns = np.mgrid[:height, :width] / sheet.scale
    turn = np.deg2rad(angle)
    u, v = columns * np.cos(turn) + rows * np.sin(turn), rows * np.cos(turn) - columns * np.sin(turn)
    period = 25.4 / lpi
    wave = 0.5 + 0.28 * np.cos(2 * np.pi * u / period) + 0.22 * np.cos(2 * np.pi * v / period)
    sheet.ink[y : y + height, x : x + width] = wave < np.quantile(wave, level)


def _in_black(rng) -> np.ndarray:
    """A place well inside the bar's left part, which no reversed line crosses, or inside the lozenge."""
    if rng.random() < 0.5:
        return rng.uniform((12, 76), (31, 96))
    return np.array([50, 38]) + rng.uniform(-1, 1, 2) * (16, 10)


def _put_faults(sheet, rng, least_mm) -> None:
    places: list[np.ndarray] = []
    while len(places) < 12:
        place = _in_black(rng)
        if all(np.hypot(*(place - p)) > 3.5 for p in places):
            places.append(place)
    for place in places[:8]:
        size = least_mm * rng.uniform(1.25, 3)
        axes = size / 2 * np.array([rng.uniform(0.9, 1.4), 1.0])
        sheet.oval(place, axes, rng.uniform(0, 180), rng.uniform(0.0, 0.12))
        sheet.faults.append(("pinhole", *(place - size), *(place + size)))
    for place in places[8:11]:
        _scratch(sheet, rng, place)
    _weak(sheet, rng, places[11])


def _scratch(sheet, rng, place) -> None:
    """A curved line of short dashes whose width wanders."""
    turn, length, bow = rng.uniform(0, np.pi), rng.uniform(4, 9), rng.uniform(-0.05, 0.05)
    t = np.linspace(-0.5, 0.5, 60) * length
    along, across = np.array([np.cos(turn), np.sin(turn)]), np.array([-np.sin(turn), np.cos(turn)])
    points = place + t[:, None] * along + (bow * t**2)[:, None] * across
    for a, b in itertools.pairwise(points):
        if rng.random() > 0.12:
            width = max(1, round(rng.uniform(0.09, 0.16) * sheet.scale))
            cv2.line(sheet.ink, sheet.px(*a), sheet.px(*b), float(rng.uniform(0, 0.2)), width, cv2.LINE_AA, _BITS)
    sheet.faults.append(("scratch", *points.min(axis=0), *points.max(axis=0)))


def _weak(sheet, rng, place) -> None:
    mask = np.zeros_like(sheet.ink)
    cv2.ellipse(
        mask, sheet.px(*place), sheet.px(2.4, 1.6), float(rng.uniform(0, 180)), 0, 360, 1.0, -1, cv2.LINE_AA, _BITS
    )
    sheet.density -= np.float32(sheet.black * rng.uniform(0.35, 0.5)) * mask
    sheet.faults.append(("weak_area", *(place - 2.4), *(place + 2.4)))


def _transmittance(sheet, rng) -> np.ndarray:
    """Light through the sheet at the scan's resolution; the black has a grain, the wedge is laid on it."""
    grain = cv2.GaussianBlur(rng.normal(0, 1, sheet.ink.shape).astype(np.float32), (0, 0), 2.5)
    density = sheet.density * (1 + 0.02 * grain / grain.std())
    passed = (1 - sheet.ink) * 10**-sheet.clear + sheet.ink * 10.0**-density
    x, y, patch = _WEDGE_MM
    for k, step in enumerate(_WEDGE):
        (c, d), (r, b) = ((round(v * sheet.scale) for v in (a, a + patch)) for a in (x + k * patch, y))
        passed[r:b, c:d] = 10**-step
    return cv2.resize(passed, None, fx=1 / _FINER, fy=1 / _FINER, interpolation=cv2.INTER_AREA)


def _scanned(light, rng, dpi) -> np.ndarray:
    """Eight-bit codes: a lens with long tails, rows that slip, columns of uneven gain, shot noise, plain gamma."""
    sharp, wide = (cv2.GaussianBlur(light, (0, 0), mm * dpi / 25.4) for mm in (0.025, 0.2))
    seen = 0.985 * sharp + 0.015 * wide + 4e-4 * light.mean()
    slip = np.cumsum(rng.normal(0, 0.03, len(seen)))
    slip -= np.linspace(0, slip[-1], len(slip))
    columns, rows = np.meshgrid(np.arange(seen.shape[1], dtype=np.float32), np.arange(len(seen), dtype=np.float32))
    seen = cv2.remap(
        seen, columns, rows + slip[:, None].astype(np.float32), cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
    )
    seen *= 1 + rng.normal(0, 0.006, seen.shape[1])
    seen += rng.normal(0, 1, seen.shape) * np.sqrt(seen * 4e-5 + 1e-8)
    return np.rint(255 * np.clip(seen, 0, 1) ** (1 / 2.2)).astype(np.uint8)


def _touches(finding, fault, slack=0.4) -> bool:
    _, x0, y0, x1, y1 = fault
    return (
        finding.x_mm < x1 + slack
        and x0 - slack < finding.x_mm + finding.width_mm
        and finding.y_mm < y1 + slack
        and y0 - slack < finding.y_mm + finding.height_mm
    )


def one_sheet(seed: int, settings) -> tuple[dict[str, list[bool]], list[bool], float]:
    """(whether each fault was found, by kind; whether each finding is real; error of the black's density)."""
    rng = np.random.default_rng(seed)
    dpi = int(rng.choice([300, 400, 600]))
    sheet = _blank(rng, dpi)
    _artwork(sheet, rng)
    _put_faults(sheet, rng, settings["film.least_pinhole_mm"])
    codes = _scanned(_transmittance(sheet, rng), rng, dpi)
    check = check_scan(Scan(codes, float(dpi)), limits_for(settings), Wedge(*_WEDGE_MM, _WEDGE))
    found = {kind: [] for kind in _SCORED}
    for fault in sheet.faults:
        found[fault[0]].append(any(f.kind in _SCORED[fault[0]] and _touches(f, fault) for f in check.findings))
    real = [any(_touches(f, fault) for fault in sheet.faults) for f in check.findings if not f.harmless]
    return found, real, np.nan if check.dmax_is_lower_bound or check.dmax is None else check.dmax - sheet.black


def figures(settings) -> str:
    found: dict[str, list[bool]] = {kind: [] for kind in _SCORED}
    real: list[bool] = []
    errors = []
    for k in range(_SHEETS):
        of_sheet, is_real, error = one_sheet(_SEED + k, settings)
        for kind, flags in of_sheet.items():
            found[kind] += flags
        real += is_real
        errors.append(error)
    known = np.abs([e for e in errors if np.isfinite(e)])
    kinds = ", ".join(f"{kind.replace('_', ' ')} {np.mean(flags):.0%} of {len(flags)}" for kind, flags in found.items())
    told = f"{np.median(known):.2f}, at most {known.max():.2f} on {len(known)}" if len(known) else "none"
    return (
        f"films of another scanner, {_SHEETS} sheets: found {kinds}\n"
        f"  findings that are real: {np.mean(real):.0%} of {len(real)}; error of the black's density: {told}; "
        f"beyond the scanner on {_SHEETS - len(known)}"
    )
