"""The plan on paper at true scale: one page of the frame's size, or sheets taped together by their marks."""

import io
import math

from frimble.core.film.placement import PlacementPlan
from frimble.ui.pictures.film.placement import DASHED, NAMED, words_of

_POINTS_PER_MM = 72 / 25.4
# Paper of a desk printer, upright, mm. Source: ISO 216; US Letter is 8.5 by 11 in.
PAPERS = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}
# What a printer leaves white, and how far sheets lie over each other.
_MARGIN_MM, _OVERLAP_MM = 8.0, 10.0


def whole_pdf(plan: PlacementPlan) -> bytes:
    """One page of the frame's own size."""
    bench = plan.bench
    file, page = _document((bench.frame_width_mm, bench.frame_height_mm))
    _draw(page, plan)
    page.save()
    return file.getvalue()


def tiled_pdf(plan: PlacementPlan, paper_mm: tuple[float, float]) -> bytes:
    """Sheets of paper, row by row, each with crosses where it meets the next and a word where it belongs."""
    wide, high = (side - 2 * _MARGIN_MM for side in paper_mm)
    columns = tiles_over(plan.bench.frame_width_mm, wide)
    rows = tiles_over(plan.bench.frame_height_mm, high)
    file, page = _document(paper_mm)
    for row in range(rows):
        for column in range(columns):
            left, top = column * (wide - _OVERLAP_MM), row * (high - _OVERLAP_MM)
            _sheet(page, plan, paper_mm, (left, top), f"Row {row + 1} of {rows}, sheet {column + 1} of {columns}")
            page.showPage()
    page.save()
    return file.getvalue()


def tiles_over(size_mm: float, printed_mm: float) -> int:
    """How many sheets cover a length, each over the next by the overlap."""
    return 1 if size_mm <= printed_mm else math.ceil((size_mm - _OVERLAP_MM) / (printed_mm - _OVERLAP_MM))


def _document(size_mm):
    from reportlab.pdfgen import canvas

    file = io.BytesIO()
    page = canvas.Canvas(file, pagesize=tuple(side * _POINTS_PER_MM for side in size_mm))
    page.setTitle("Placement, 1:1")
    return file, page


def _sheet(page, plan, paper_mm, corner_mm, words) -> None:
    """One sheet: the part of the plan from this corner on, and what tells how the sheets belong together."""
    (left, top), (wide, high) = corner_mm, (side - 2 * _MARGIN_MM for side in paper_mm)
    page.saveState()
    page.translate(_MARGIN_MM * _POINTS_PER_MM, _MARGIN_MM * _POINTS_PER_MM)
    clip = page.beginPath()
    clip.rect(0, 0, wide * _POINTS_PER_MM, high * _POINTS_PER_MM)
    page.clipPath(clip, stroke=0)
    page.translate(-left * _POINTS_PER_MM, (top + high - plan.bench.frame_height_mm) * _POINTS_PER_MM)
    _draw(page, plan)
    page.restoreState()
    page.saveState()
    page.scale(_POINTS_PER_MM, _POINTS_PER_MM)
    page.setLineWidth(0.2)
    inset = _MARGIN_MM + _OVERLAP_MM / 2
    for x in (inset, paper_mm[0] - inset):
        for y in (inset, paper_mm[1] - inset):
            page.line(x - 4, y, x + 4, y)
            page.line(x, y - 4, x, y + 4)
    page.setFont("Helvetica", 4)
    page.drawString(_MARGIN_MM, 2, f"{words}. Lay the crosses of neighbouring sheets on each other and tape them.")
    page.restoreState()


def _draw(page, plan: PlacementPlan) -> None:
    """The plan with its lower left corner in the origin."""
    height = plan.bench.frame_height_mm
    page.scale(_POINTS_PER_MM, _POINTS_PER_MM)
    for box in plan.boxes:
        page.setLineWidth(0.6 if box.what in ("frame", "image") else 0.2)
        page.setDash([4, 2] if box.what in DASHED else [])
        page.rect(box.x_mm, height - box.y_mm - box.height_mm, box.width_mm, box.height_mm)
        if box.what == "tape":
            page.line(box.x_mm, height - box.y_mm, box.x_mm + box.width_mm, height - box.y_mm - box.height_mm)
            page.line(box.x_mm, height - box.y_mm - box.height_mm, box.x_mm + box.width_mm, height - box.y_mm)
        if box.what in NAMED:
            page.setFont("Helvetica", 6)
            page.drawString(box.x_mm + 3, height - box.y_mm - 8, words_of(box))
    page.setDash([])
    for x, y in plan.marks:
        page.line(x - 4, height - y, x + 4, height - y)
        page.line(x, height - y - 4, x, height - y + 4)
    page.setFont("Helvetica", 5)
    page.line(10, 8, 110, 8)
    page.drawString(10, 10, "This line is 100 mm long when printed at true scale.")
