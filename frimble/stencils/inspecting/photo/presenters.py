"""What the page of an inspected stencil shows."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from frimble.core.numbers import counted
from frimble.core.stencil.inspection.kinds import KINDS, FindingKind
from frimble.stencils.inspecting.photo.models import FindingDecision, StencilPhoto, TappedFault

# Boxes are drawn no smaller than this, so that a pinhole is seen on the whole picture, mm.
_LEAST_BOX_MM = 4.0


@dataclass(frozen=True)
class FindingRow:
    """A finding with its box on the straightened picture, px, and what was decided; `open` while nobody did."""

    number: int
    index: int
    label: str
    value: str
    place: str
    why: str
    do: str
    box: tuple[float, float, float, float]
    decided: str
    open: bool


@dataclass(frozen=True)
class PhotoPart:
    headline: str
    summary: str
    findings: Sequence[FindingRow]
    width: float
    height: float
    px_mm: float


def part(photo: StencilPhoto) -> PhotoPart:
    """Findings in reading order, and what to do next."""
    newest = {d.finding: d for d in photo.decisions.all()}
    px_mm = photo.found.get("px_mm", 10.0)
    faults = [*photo.found["findings"], *(_tapped(t) for t in photo.tapped.all())]
    rows = [_row(k, f, newest.get(k), px_mm) for k, f in enumerate(faults)]
    width, height = _size(photo)
    if photo.refused:
        return PhotoPart("Not told by this photo", photo.refused, (), width, height, px_mm)
    left = sum(r.open for r in rows)
    seen = _seen_words(photo)
    if not rows:
        nothing = "No fault found" if photo.photo else "Tap what you see"
        return PhotoPart(nothing, seen, (), width, height, px_mm)
    faults = counted(len(rows), "fault")
    headline = f"{faults}, {left} to decide" if left else f"{faults}, each decided"
    return PhotoPart(headline, seen, rows, width, height, px_mm)


def _seen_words(photo: StencilPhoto) -> str:
    if not photo.photo:
        return "By eye, on the film's drawing."
    return f"The {photo.result['side']} side, {photo.result['seen_share'] * 100:.0f} % of the film in view."


def _tapped(fault: TappedFault) -> dict:
    """A fault seen by eye as one that a photo found; closed openings and scum have no share."""
    kind = FindingKind(fault.kind)
    by_kind = {FindingKind.PINHOLE: fault.size_mm, FindingKind.BREAKDOWN: math.pi * fault.size_mm**2 / 4}
    left, top = fault.x_mm - fault.size_mm / 2, fault.y_mm - fault.size_mm / 2
    box = {"x_mm": left, "y_mm": top, "width_mm": fault.size_mm, "height_mm": fault.size_mm}
    return {"kind": fault.kind, **box, "value": by_kind.get(kind), "size_mm": fault.size_mm}


def _size(photo: StencilPhoto) -> tuple[float, float]:
    if not photo.straight:
        return 0.0, 0.0
    from PIL import Image

    with photo.straight.open() as file:
        return Image.open(file).size


def _row(index: int, finding: dict, decision: FindingDecision | None, px_mm: float) -> FindingRow:
    kind = FindingKind(finding["kind"])
    card = KINDS[kind]
    x, y, w, h = (finding[n] for n in ("x_mm", "y_mm", "width_mm", "height_mm"))
    wide, high = max(w, _LEAST_BOX_MM), max(h, _LEAST_BOX_MM)
    box = (x + w / 2 - wide / 2, y + h / 2 - high / 2, wide, high)
    reason = f": {decision.reason}" if decision and decision.reason else ""
    return FindingRow(
        index + 1,
        index,
        card.label,
        _value(kind, finding["value"], card.unit)
        if finding["value"] is not None
        else f"{finding['size_mm']:.2g} mm across",
        f"{x + w / 2:.0f}, {y + h / 2:.0f} mm from the film's top left",
        card.why,
        card.do,
        tuple(v * px_mm for v in box),
        f"{decision.get_what_display()}{reason}, {decision.by}" if decision else "",
        decision is None,
    )


def _value(kind: FindingKind, value: float, unit: str) -> str:
    if kind in (FindingKind.BLOCKED, FindingKind.SCUM):
        return f"{max(value, 0.001) * 100:.2g} % {unit}"
    return f"{value:.2g} {unit}"
