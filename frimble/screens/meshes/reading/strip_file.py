"""The scale strip on paper or film: some to a sheet, with a bar that shows whether the printer kept their size."""

import io

from reportlab.lib.pagesizes import A4
from reportlab.pdfgen.canvas import Canvas

from frimble.core.mesh.reading import strip
from frimble.core.units import MM_PER_POINT

_STRIPS, _APART_MM, _LEFT_MM, _TOP_MM, _BAR_MM = 4, 28.0, 30.0, 40.0, 100.0


def strip_pdf() -> bytes:
    """An A4 sheet of strips at true size."""
    out = io.BytesIO()
    sheet = Canvas(out, pagesize=A4, invariant=True)
    sheet.setTitle("Scale strip")
    sheet.scale(1 / MM_PER_POINT, 1 / MM_PER_POINT)
    high_mm = A4[1] * MM_PER_POINT
    sheet.setFont("Helvetica", 3.6)
    sheet.drawString(_LEFT_MM, high_mm - 24, "Scale strips. Print at 100 %; cut one out and lay it on the mesh.")
    for k in range(_STRIPS):
        _draw(sheet, high_mm - _TOP_MM - k * _APART_MM)
    bar = high_mm - _TOP_MM - _STRIPS * _APART_MM
    sheet.rect(_LEFT_MM, bar, _BAR_MM, 1, stroke=0, fill=1)
    sheet.drawString(_LEFT_MM, bar - 5, f"Printed true when this bar measures {_BAR_MM:g} mm.")
    sheet.showPage()
    sheet.save()
    return out.getvalue()


def _draw(sheet: Canvas, top_mm: float) -> None:
    """One strip, its upper edge at `top_mm` from the sheet's foot."""
    sheet.setLineWidth(0.1)
    sheet.rect(_LEFT_MM, top_mm - strip.HEIGHT_MM, strip.LENGTH_MM, strip.HEIGHT_MM, stroke=1, fill=0)
    for x, y, side in strip.black_cells():
        sheet.rect(_LEFT_MM + x, top_mm - y - side, side, side, stroke=0, fill=1)
