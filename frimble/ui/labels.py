"""Labels for screens: a QR code and a large readable code that survive wet hands; single as SVG, many as PDF sheets."""

import io
from collections.abc import Sequence
from dataclasses import dataclass

import segno
from django.utils.safestring import mark_safe

from frimble.core.conclusions import InvalidInput
from frimble.ui.decimals import written
from frimble.ui.pictures.svg import element, text, tip

# A quarter of the code may be smeared or scratched. Source: ISO/IEC 18004, error correction level Q.
_CORRECTION = "q"
_QUIET = 4


@dataclass(frozen=True)
class Sheet:
    """A sheet of labels: page and label in mm, columns and rows, the first label's corner and the steps between them."""

    words: str
    page_mm: tuple[float, float]
    label_mm: tuple[float, float]
    grid: tuple[int, int]
    first_mm: tuple[float, float]
    step_mm: tuple[float, float]


SHEETS = {
    "a4-24": Sheet("A4, 24 labels of 70 × 37 mm", (210, 297), (70, 37), (3, 8), (0, 0.5), (70, 37)),
    "a4-14": Sheet("A4, 14 labels of 99 × 38 mm", (210, 297), (99, 38), (2, 7), (5, 15.5), (101, 38)),
    "a4-8": Sheet("A4, 8 labels of 105 × 74 mm", (210, 297), (105, 74), (2, 4), (0, 0.5), (105, 74)),
    "letter-30": Sheet(
        "Letter, 30 labels of 2⅝ × 1 in", (215.9, 279.4), (66.7, 25.4), (3, 10), (4.8, 12.7), (69.85, 25.4)
    ),
    "roll": Sheet("Roll, one label of 62 × 29 mm", (62, 29), (62, 29), (1, 1), (0, 0), (62, 29)),
}


@dataclass(frozen=True)
class Label:
    """What stands on a label: the code, and two short lines under it."""

    code: str
    mesh: str
    frame: str


def modules(code: str) -> list[list[int]]:
    """The QR code's modules row by row, 1 dark, its quiet zone with it."""
    return [list(row) for row in segno.make(code, error=_CORRECTION, micro=False).matrix_iter(border=_QUIET)]


def _path(rows, module: float) -> str:
    """The dark modules as an SVG path, each `module` wide."""
    return "".join(
        f"M{x * module:.3f} {y * module:.3f}h{module:.3f}v{module:.3f}h-{module:.3f}z"
        for y, row in enumerate(rows)
        for x, dark in enumerate(row)
        if dark
    )


def qr_picture(words: str) -> str:
    """A QR code of some words as a picture within a page."""
    rows = modules(words)
    side = len(rows)
    ground = element("rect", width=side, height=side, class_="qr-light")
    drawn = element("path", d=_path(rows, 1), class_="qr-dark")
    title = tip("QR code")
    return mark_safe(element("svg", title, ground, drawn, viewBox=f"0 0 {side} {side}", class_="qr", role="img"))  # noqa: S308


def as_svg(label: Label, size_mm: tuple[float, float] = (70, 37)) -> str:
    """One label as an SVG file of its own, at true size."""
    width, height = size_mm
    rows = modules(label.code)
    module = height / len(rows)
    path = _path(rows, module)
    left, code = height + 1, _fitted(label.code, width - height - 3, height * 0.34)
    svg = element(
        "svg",
        tip(label.code),
        element("rect", width=width, height=height, fill="white"),
        element("path", d=path, fill="black"),
        text(left, height * 0.42, label.code, anchor="start", size=code),
        text(
            left, height * 0.66, label.mesh, anchor="start", size=_fitted(label.mesh, width - left - 2, height * 0.14)
        ),
        text(
            left, height * 0.86, label.frame, anchor="start", size=_fitted(label.frame, width - left - 2, height * 0.12)
        ),
        xmlns="http://www.w3.org/2000/svg",
        viewBox=f"0 0 {width:g} {height:g}",
        width=f"{width:g}mm",
        height=f"{height:g}mm",
        font_family="sans-serif",
        font_weight="700",
    )
    return mark_safe(svg)  # noqa: S308 - every part was escaped by `element`


def _fitted(words: str, room: float, most: float) -> float:
    """A letter height at which the words fit; capitals and figures are some 0.62 of it wide."""
    return min(most, room / (0.62 * max(1, len(words))))


def as_pdf(labels: Sequence[Label], sheet: Sheet, start: int = 1) -> bytes:
    """Labels on as many sheets as they need, the first on place `start` of a sheet that is partly used.

    Raises:
        InvalidInput: no label, or a start beyond the sheet.
    """
    from reportlab.lib.units import mm
    from reportlab.pdfgen import canvas

    columns, rows = sheet.grid
    if not labels:
        raise InvalidInput("Name at least one screen.", "codes")
    if not 1 <= start <= columns * rows:
        raise InvalidInput(f"The sheet has {columns * rows} places; {start} is none of them.", "start")
    file = io.BytesIO()
    page = canvas.Canvas(file, pagesize=(sheet.page_mm[0] * mm, sheet.page_mm[1] * mm))
    page.setTitle("Screen labels")
    for number, label in enumerate(labels, start=start - 1):
        place = number % (columns * rows)
        if place == 0 and number:
            page.showPage()
        x = sheet.first_mm[0] + place % columns * sheet.step_mm[0]
        y = sheet.page_mm[1] - sheet.first_mm[1] - (place // columns) * sheet.step_mm[1] - sheet.label_mm[1]
        page.saveState()
        page.translate(x * mm, y * mm)
        page.scale(mm, mm)
        _draw(page, label, *sheet.label_mm)
        page.restoreState()
    page.save()
    return file.getvalue()


def _draw(page, label: Label, width: float, height: float) -> None:
    rows = modules(label.code)
    margin = 1.5
    module = (height - 2 * margin) / len(rows)
    for y, row in enumerate(rows):
        for x, dark in enumerate(row):
            if dark:
                page.rect(margin + x * module, height - margin - (y + 1) * module, module, module, stroke=0, fill=1)
    left = height + 0.5
    lines = ((label.code, 0.56, 0.34), (label.mesh, 0.32, 0.15), (label.frame, 0.13, 0.13))
    for said, at, most in lines:
        words = written(said)
        page.setFont("Helvetica-Bold", _fitted(words, width - left - 2, height * most))
        page.drawString(left, height * at, words)
