"""Each tint told once: one of about a half is met as dots and as holes, or as pieces of them where others hang together."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from scipy.spatial import cKDTree

from frimble.core.film.detection.halftones.tints import HalftonePatch
from frimble.core.film.findings import Tint
from frimble.core.units import MM_PER_INCH

# A piece lies in a larger patch that has so many of its members, or so much of its box and about its coverage.
_SHARE, _ABOUT = 0.6, 0.08
# Pieces of one screen are so near, and so much alike in pitch, angle and coverage.
_NEAR_MM, _PITCH_SHARE, _ANGLE_DEG, _COVERAGE = 3.0, 0.04, 4.0, 0.025


def told_once(patches: Sequence[HalftonePatch]) -> list[HalftonePatch]:
    """The patches, pieces of one screen as one, without those that lie in a larger one."""
    told: list[HalftonePatch] = []
    for patch in _by_size(patches):
        goes_on = next((k for k, other in enumerate(told) if _one_screen(patch.tint, other.tint)), None)
        if goes_on is None:
            told.append(patch)
        else:
            told[goes_on] = _with(told[goes_on], patch)
    alone: list[HalftonePatch] = []
    for patch in _by_size(told):
        if not any(_lies_in(patch, other) for other in alone):
            alone.append(patch)
    return alone


def _by_size(patches: Sequence[HalftonePatch]) -> list[HalftonePatch]:
    return sorted(patches, key=lambda patch: -len(patch.members))


def _one_screen(one: Tint, other: Tint) -> bool:
    turned = abs((one.angle_deg - other.angle_deg + 45) % 90 - 45)
    return (
        one.holes == other.holes
        and max(_apart(one, other)) < _NEAR_MM
        and abs(one.ruling_lpi / other.ruling_lpi - 1) < _PITCH_SHARE
        and turned < _ANGLE_DEG
        and abs(one.coverage - other.coverage) < _COVERAGE
    )


def _apart(one: Tint, other: Tint) -> tuple[float, float]:
    """(across, down) between two boxes, mm; less than nothing where they overlap."""
    return (
        max(one.x_mm, other.x_mm) - min(one.x_mm + one.width_mm, other.x_mm + other.width_mm),
        max(one.y_mm, other.y_mm) - min(one.y_mm + one.height_mm, other.y_mm + other.height_mm),
    )


def _with(patch: HalftonePatch, piece: HalftonePatch) -> HalftonePatch:
    """The larger patch, reaching as far as its piece does."""
    one, other = patch.tint, piece.tint
    left, top = min(one.x_mm, other.x_mm), min(one.y_mm, other.y_mm)
    width = max(one.x_mm + one.width_mm, other.x_mm + other.width_mm) - left
    height = max(one.y_mm + one.height_mm, other.y_mm + other.height_mm) - top
    tint = replace(one, x_mm=left, y_mm=top, width_mm=width, height_mm=height)
    # A pitch tells how many pixels a millimetre has.
    gap_px = _NEAR_MM * patch.pitch_px * one.ruling_lpi / MM_PER_INCH
    return replace(patch, tint=tint, members=np.concatenate([patch.members, piece.members]), gap_px=gap_px)


def _lies_in(piece: HalftonePatch, patch: HalftonePatch) -> bool:
    """Whether a patch is a piece of a larger one; their boxes may overlap where tints do not."""
    across, down = _apart(piece.tint, patch.tint)
    if max(across, down) > 0:
        return False
    boxed = across * down > _SHARE * piece.tint.width_mm * piece.tint.height_mm
    if boxed and abs(piece.tint.coverage - patch.tint.coverage) < _ABOUT:
        return True
    far, _ = cKDTree(patch.members).query(piece.members)
    return bool((far < patch.pitch_px).mean() > _SHARE)
