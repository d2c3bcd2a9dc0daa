"""The film check: from a scan to densities, findings and a verdict with its reason."""

import time
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace

import cv2
import numpy as np

from frimble.core.film import words
from frimble.core.film.detection import clears, dust, holes, lettering, lines, solids
from frimble.core.film.detection.celltest import CellTest
from frimble.core.film.detection.grain import grain_cells
from frimble.core.film.detection.halftones import pieces, tints
from frimble.core.film.detection.halftones.tints import HalftonePatch
from frimble.core.film.detection.solids import Black
from frimble.core.film.findings import FilmCheck, Finding, Limits, checked_limits
from frimble.core.film.scan import vectors
from frimble.core.film.scan.density import DensityMap, read_densities
from frimble.core.film.scan.grid import Cells, Scan
from frimble.core.film.scan.passes import ScanPasses, begin
from frimble.core.film.wedge.definition import Wedge

Progress = Callable[[float, str], None]


def check_scan(
    scan: Scan,
    limits: Limits,
    wedge: Wedge | None = None,
    find_wedge_of: Sequence[float] | None = None,
    progress: Progress = lambda share, what: None,
) -> FilmCheck:
    """Check a film's scan, as `check_and_read` does; its times are told."""
    began = time.perf_counter()
    check, _ = check_and_read(scan, limits, wedge, find_wedge_of, progress)
    return with_seconds(check, {"analyse": time.perf_counter() - began})


def check_and_read(
    scan: Scan,
    limits: Limits,
    wedge: Wedge | None = None,
    find_wedge_of: Sequence[float] | None = None,
    progress: Progress = lambda share, what: None,
) -> tuple[FilmCheck, DensityMap]:
    """Check a film's scan, and tell the densities that were read on the way.

    Args:
        limits: what the film is held against. wedge: where one was placed. find_wedge_of: densities of one to be found.
        progress: called with the share done, 0..1, and what is being done.

    Raises:
        InvalidInput: no film can be seen, the wedge is not where it is claimed to be, or limits that cannot be believed.
    """
    checked_limits(limits)
    progress(0.02, "measuring the sheet")
    seeing = begin(scan, limits)
    reading = read_densities(scan, seeing.cells, seeing.levels, wedge, find_wedge_of)
    return _check(reading, limits, seeing, progress), reading


def _check(reading: DensityMap, limits: Limits, seeing: ScanPasses, progress: Progress) -> FilmCheck:
    black = None if reading.scan.artwork else solids.black_of(reading.light, reading.solid)
    clear = float(reading.curve.of(reading.levels.clear))
    dmax, at_least = _dmax(reading, black)
    findings: list[Finding] = []
    if black is not None:
        progress(0.15, "looking for weak areas")
        findings += _solid_findings(reading, limits, float(reading.curve.of(max(black.light, 1e-9))), clear)
    found_marks, found_tints, skew = _mark_findings(reading, limits, seeing, progress)
    if not reading.scan.artwork:
        findings += _dull_findings(reading, found_tints, clear)
    findings = _with_details(findings + found_marks, reading.scan, limits)
    notes = [*reading.notes, *_density_notes(reading, dmax)]
    explained = tuple(
        words.explain(f, limits, dmax) for f in sorted(findings, key=lambda f: (f.harmless, f.y_mm, f.x_mm))
    )
    verdict, reason = words.verdict(explained, dmax, at_least, clear, limits, drawn=reading.scan.artwork)
    progress(1.0, "done")
    return FilmCheck(
        dmax,
        at_least,
        None if reading.scan.artwork else max(0.0, clear),
        explained,
        tuple(p.tint for p in found_tints),
        skew,
        verdict,
        reason,
        tuple(notes),
    )


def _with_details(found: list[Finding], scan: Scan, limits: Limits) -> list[Finding]:
    """The lines and words a file draws are known exactly: they take the place of what its picture shows there."""
    drawn = vectors.too_fine(scan.details, limits)
    seen = [
        f for f in found if f.kind not in ("thin_line", "type", "type_size") or not any(_overlap(f, d) for d in drawn)
    ]
    return seen + drawn


def _dmax(reading: DensityMap, black: Black | None) -> tuple[float | None, bool]:
    if black is None:
        return None, False
    dmax = float(reading.curve.of(max(black.light, 1e-9)))
    return (reading.curve.ceiling, True) if dmax >= reading.curve.ceiling else (dmax, False)


def _solid_findings(reading: DensityMap, limits: Limits, dmax: float, clear: float) -> list[Finding]:
    step = reading.cells.step_mm
    # Beyond what the curve tells, densities are noise.
    bands = solids.banding(np.minimum(reading.density, reading.curve.ceiling), reading.solid, step)
    weak = solids.weak_areas(reading.density, reading.solid, step, dmax, clear, reading.curve.ceiling, limits)
    return bands + [w for w in weak if not any(solids.explained_by(w, b, dmax) for b in bands)]


def _dull_findings(reading: DensityMap, patches: Sequence[HalftonePatch], clear: float) -> list[Finding]:
    left_out = reading.left_out | _texture(reading.cells, patches)
    return clears.dull_areas(reading.scan, reading.cells, reading.levels, reading.density, left_out, clear)


def _mark_findings(
    reading: DensityMap, limits: Limits, seeing: ScanPasses, progress: Progress
) -> tuple[list[Finding], list[HalftonePatch], float]:
    """(findings, halftone patches, skew) of marks, lines and tints."""
    left_out = CellTest(reading.left_out, reading.cells.side)
    progress(0.3, "looking for pinholes and scratches")
    findings, patches, texture = _spot_findings(reading, limits, seeing, left_out, progress)
    progress(0.75, "measuring lines and gaps")
    judged = reading.scan, reading.levels, limits, left_out, texture
    thin = lines.thin_lines(seeing.lines.result(), *judged)
    gaps = lines.thin_lines(seeing.gaps.result(), *judged)
    scratches = [f for f in findings if f.kind in ("scratch", "thin_line")]
    findings += thin + [g for g in gaps if not any(_overlap(g, s) for s in scratches)]
    findings += tints.too_small(patches, limits)
    return findings, patches, seeing.turn.result()


def _spot_findings(
    reading: DensityMap, limits: Limits, seeing: ScanPasses, left_out: CellTest, progress: Progress
) -> tuple[list[Finding], list[HalftonePatch], CellTest]:
    """(findings, halftone patches, test of where no line is judged) of bright and dark marks."""
    scan, levels = reading.scan, reading.levels
    bright, dark = seeing.bright.result(), seeing.dark.result()
    met = tints.tints_of(scan, levels, dark.dots, dark.lattice, holes=False, left_out=left_out)
    met += tints.tints_of(scan, levels, bright.dots, bright.lattice, holes=True, left_out=left_out)
    patches = pieces.told_once(met)
    # A piece that is told with a larger one may reach beyond it.
    covered = _texture(reading.cells, met + patches)
    texture = CellTest(covered, reading.cells.side)
    grainy = CellTest(covered | grain_cells(reading.cells, levels), reading.cells.side)
    findings = holes.holes_and_scratches(
        scan,
        levels,
        limits,
        bright.marks,
        bright.meant | grainy(bright.marks.centres),
        dark.marks,
        left_out,
    )
    progress(0.6, "looking for specks")
    meant = dark.meant | texture(dark.marks.centres)
    findings += dust.specks(scan, levels, limits, dark.marks, meant, left_out)
    findings += lettering.small_type(scan, limits, dark.marks, meant, left_out)
    return findings, patches, grainy


def _texture(cells: Cells, patches: Sequence[HalftonePatch]) -> np.ndarray:
    """Cells that a halftone patch covers, each patch closed over its own gaps."""
    flags = np.zeros(cells.mean.shape, bool)
    for patch in patches:
        step, gap = (int(np.ceil(reach / cells.side)) + 1 for reach in (patch.pitch_px, patch.gap_px))
        points = (patch.members / cells.side).astype(int)
        first = np.maximum(points.min(axis=0) - step - gap, 0)
        size = points.max(axis=0) - first + 1 + 2 * (step + gap)
        own = np.zeros((size[1], size[0]), np.uint8)
        own[points[:, 1] - first[1], points[:, 0] - first[0]] = 1
        if patch.gap_px:
            # What lies between the pieces of one tint, at its edge too, belongs to it.
            hull = cv2.fillConvexPoly(np.zeros_like(own), cv2.convexHull((points - first).astype(np.int32)), 1)
            own = cv2.min(hull, cv2.dilate(own, np.ones((2 * gap + 1, 2 * gap + 1), np.uint8)))
        own = cv2.dilate(own, np.ones((2 * step + 1, 2 * step + 1), np.uint8))
        own = cv2.erode(own, np.ones((step, step), np.uint8))
        part = flags[first[1] : first[1] + size[1], first[0] : first[0] + size[0]]
        part |= own[: part.shape[0], : part.shape[1]].astype(bool)
    return flags


def _overlap(one: Finding, other: Finding) -> bool:
    return (
        one.x_mm < other.x_mm + other.width_mm + 0.3
        and other.x_mm < one.x_mm + one.width_mm + 0.3
        and one.y_mm < other.y_mm + other.height_mm + 0.3
        and other.y_mm < one.y_mm + one.height_mm + 0.3
    )


def _density_notes(reading: DensityMap, dmax: float | None) -> list[str]:
    if dmax is None and not reading.scan.artwork:
        return ["No solid is large enough to take the black's density from."]
    return []


def with_seconds(check: FilmCheck, seconds: Mapping[str, float]) -> FilmCheck:
    """The same check with more of its times told."""
    return replace(check, seconds=dict(seconds) | dict(check.seconds))
