"""Fine detail of a PDF's own lines and words, which no rendering can blur or thicken."""

import ctypes
import math
from dataclasses import dataclass

import pypdfium2.raw as pdfium
from pypdfium2._helpers.page import PdfPage
from pypdfium2._helpers.pageobjects import PdfObject, PdfTextObj

from frimble.core.film.findings import Finding, Limits
from frimble.core.units import MM_PER_POINT

_DEEPEST = 8
# Bits of a font's flags. Source: ISO 32000-1, table 123.
_SERIF = 2
_LEAST_LINE_MM = 3.0


@dataclass(frozen=True)
class Detail:
    """A line or a run of words as the file draws it: box in mm from the page's top left, line width in mm or type size
    in points, and for words whether the face has serifs."""

    kind: str
    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float
    value: float
    serif: bool = False


def details_of(page: PdfPage) -> tuple[Detail, ...]:
    """Every stroked or thin filled path and every run of words on a page of pypdfium2."""
    _, height = page.get_size()
    details = (_detail(item, height) for item in page.get_objects(max_depth=_DEEPEST))
    return tuple(d for d in details if d)


def _detail(item: PdfObject | PdfTextObj, page_height: float) -> Detail | None:
    left, low, right, top = item.get_bounds()
    box = (
        left * MM_PER_POINT,
        (page_height - top) * MM_PER_POINT,
        (right - left) * MM_PER_POINT,
        (top - low) * MM_PER_POINT,
    )
    if item.type == pdfium.FPDF_PAGEOBJ_TEXT:
        return Detail("type_size", *box, _type_size(item), _has_serifs(item))
    if item.type == pdfium.FPDF_PAGEOBJ_PATH:
        width = _line_width(item, box)
        return None if width is None else Detail("thin_line", *box, width)
    return None


def _scale_of(item: PdfObject | PdfTextObj) -> float:
    m = item.get_matrix()
    return math.sqrt(abs(m.a * m.d - m.b * m.c))


def _type_size(item: PdfTextObj) -> float:
    size = ctypes.c_float()
    pdfium.FPDFTextObj_GetFontSize(item, size)
    return size.value * _scale_of(item)


def _has_serifs(item: PdfTextObj) -> bool:
    font = pdfium.FPDFTextObj_GetFont(item)
    name = ctypes.create_string_buffer(128)
    pdfium.FPDFFont_GetBaseFontName(font, name, len(name))
    # The fourteen fonts every reader brings carry no flags: Times is the one with serifs.
    return bool(pdfium.FPDFFont_GetFlags(font) & _SERIF) or name.value.startswith(b"Times")


def _line_width(item: PdfObject, box: tuple[float, float, float, float]) -> float | None:
    """Width in mm of a stroke, or of a filled bar; None for other shapes. A stroke of no width is a printer's thinnest."""
    filled, stroked = ctypes.c_int(), ctypes.c_int()
    pdfium.FPDFPath_GetDrawMode(item, filled, stroked)
    if stroked.value and not filled.value:
        width = ctypes.c_float()
        pdfium.FPDFPageObj_GetStrokeWidth(item, width)
        return width.value * _scale_of(item) * MM_PER_POINT
    bar = filled.value and pdfium.FPDFPath_CountSegments(item) <= 5
    return min(box[2:]) if bar and max(box[2:]) >= _LEAST_LINE_MM else None


def too_fine(details: tuple[Detail, ...], limits: Limits) -> list[Finding]:
    """Lines thinner than the limit and words set smaller than their floor."""
    floor = {"thin_line": (limits.line_mm, limits.line_mm), "type_size": (limits.sans_pt, limits.serif_pt)}
    return [
        Finding(d.kind, d.x_mm, d.y_mm, d.width_mm, d.height_mm, d.value)
        for d in details
        if d.value < floor[d.kind][d.serif] - 1e-6
    ]
