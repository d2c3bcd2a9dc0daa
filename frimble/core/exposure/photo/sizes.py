"""How wide what was drawn came out on a step: a line that stands may still be over-exposed, width counts."""

from dataclasses import dataclass

from frimble.core.exposure.photo.concluding import PhotoStep
from frimble.core.exposure.target.geometry import Target


@dataclass(frozen=True)
class Size:
    """One part of a step: its kind, what was drawn and measured, in `unit`, and the middle of it, mm from the top."""

    kind: str
    drawn: float
    measured: float | None
    unit: str
    y_mm: float


def sizes(step: PhotoStep, target: Target) -> list[Size]:
    """Every ruling and field of dots of a step from the top down; nothing measured on a photo read before dots were."""
    openings = dict(zip(_widths(target, "openings"), step.open_share, strict=False))
    lines = dict(zip(_widths(target, "lines"), step.line_share, strict=False))
    dots = dict(zip(sorted({p.tint for p in target.patches_of(step.index, "dots")}), step.dots, strict=False))
    measured = []
    for p in (p for p in target.patches if p.step == step.index):
        if p.kind in ("openings", "lines"):
            share = (openings if p.kind == "openings" else lines).get(p.width_um)
            measured.append(Size(p.kind, p.width_um, None if share is None else share * p.width_um, "µm", p.middle[1]))
        elif p.kind == "dots":
            share = dots.get(p.tint)
            measured.append(Size("dots", p.tint * 100, None if share is None else share * 100, "%", p.middle[1]))
    return measured


def _widths(target: Target, kind: str) -> list[float]:
    return sorted({p.width_um for p in target.patches_of_kind(kind)})
