"""The step-test film as a file: one writer for each format, all with the same signature, in a registry at the end."""

import io
import math
from collections.abc import Callable, Mapping
from typing import Any
from xml.sax.saxutils import escape

import cv2
import numpy as np
from PIL import Image
from reportlab.pdfgen.canvas import Canvas

from frimble.core.exposure.target.drawing import Disc, Rect, Words, shapes_of
from frimble.core.exposure.target.geometry import Target, to_json
from frimble.core.units import MM_PER_POINT

_PAGE_MM = (297.0, 210.0)
# Capitals of the plain stroke letters are this many pixels high at scale 1.
_STROKE_HEIGHT = 21.0
_CAPITALS = 0.7


def raster(target: Target) -> np.ndarray:
    """(rows, columns) uint8 of the film: 0 black, 255 clear, one value for each film pixel."""
    rows, columns = (round(v / target.pixel_mm) for v in (target.height_mm, target.width_mm))
    film = np.full((rows, columns), 255, np.uint8)
    for shape in shapes_of(target):
        _DRAW[type(shape)](film, shape)
    return film


def _draw_rect(film: np.ndarray, shape: Rect) -> None:
    x, y = max(0, shape.x), max(0, shape.y)
    film[y : max(0, shape.y + shape.height), x : max(0, shape.x + shape.width)] = 0 if shape.black else 255


def _draw_disc(film: np.ndarray, shape: Disc) -> None:
    """Every pixel whose middle lies within the disc."""
    left, top = math.floor(shape.x - shape.radius), math.floor(shape.y - shape.radius)
    side = math.ceil(2 * shape.radius) + 2
    part = film[max(0, top) : top + side, max(0, left) : left + side]
    y, x = np.ogrid[max(0, top) : max(0, top) + part.shape[0], max(0, left) : max(0, left) + part.shape[1]]
    within = (x + 0.5 - shape.x) ** 2 + (y + 0.5 - shape.y) ** 2 <= shape.radius**2
    part[within] = 0 if shape.black else 255


def _draw_words(film: np.ndarray, shape: Words) -> None:
    scale = shape.height / _STROKE_HEIGHT
    stroke = max(1, round(shape.height / 7))
    at = (round(shape.x), round(shape.y))
    cv2.putText(film, shape.text, at, cv2.FONT_HERSHEY_SIMPLEX, scale, 0, stroke, cv2.LINE_8)


_DRAW: Mapping[type, Callable[[np.ndarray, Any], None]] = {Rect: _draw_rect, Disc: _draw_disc, Words: _draw_words}


def png(target: Target) -> bytes:
    """The film, one bit a pixel, with its resolution."""
    out = io.BytesIO()
    Image.fromarray(raster(target)).convert("1").save(out, "PNG", dpi=(target.dpi, target.dpi))
    return out.getvalue()


def svg(target: Target) -> bytes:
    """The film at true scale."""
    rows, columns = (round(v / target.pixel_mm) for v in (target.height_mm, target.width_mm))
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{target.width_mm:.4f}mm" height="{target.height_mm:.4f}mm" '
        f'viewBox="0 0 {columns} {rows}" shape-rendering="crispEdges">',
        f'<rect width="{columns}" height="{rows}" fill="#fff"/>',
        *(_svg_shape(s) for s in shapes_of(target)),
        "</svg>",
    ]
    return "\n".join(parts).encode()


def _svg_shape(shape: Disc | Rect | Words) -> str:
    if isinstance(shape, Words):
        size = shape.height / _CAPITALS
        return (
            f'<text x="{shape.x:.1f}" y="{shape.y:.1f}" font-size="{size:.1f}" font-family="sans-serif">'
            f"{escape(shape.text)}</text>"
        )
    fill = "#000" if shape.black else "#fff"
    if isinstance(shape, Rect):
        return f'<rect x="{shape.x}" y="{shape.y}" width="{shape.width}" height="{shape.height}" fill="{fill}"/>'
    return f'<circle cx="{shape.x:.2f}" cy="{shape.y:.2f}" r="{shape.radius:.2f}" fill="{fill}"/>'


def pdf(target: Target) -> bytes:
    """The film at true scale in the middle of a page of A4 on its side: print at 100 %, not “fit to page”."""
    out = io.BytesIO()
    point = 1 / MM_PER_POINT
    canvas = Canvas(out, pagesize=tuple(v * point for v in _PAGE_MM), invariant=1)
    canvas.setTitle("Step-test film")
    canvas.translate(
        *((page - sheet) / 2 * point for page, sheet in zip(_PAGE_MM, (target.width_mm, target.height_mm), strict=True))
    )
    canvas.scale(*[target.pixel_mm * point] * 2)
    rows = target.height_mm / target.pixel_mm
    for shape in shapes_of(target):
        _pdf_shape(canvas, shape, rows)
    canvas.save()
    return out.getvalue()


def _pdf_shape(canvas: Canvas, shape: Disc | Rect | Words, rows: float) -> None:
    """One shape; the page's own y runs up."""
    if isinstance(shape, Words):
        canvas.setFillGray(0)
        canvas.setFont("Helvetica", shape.height / _CAPITALS)
        canvas.drawString(shape.x, rows - shape.y, shape.text)
        return
    canvas.setFillGray(0 if shape.black else 1)
    if isinstance(shape, Rect):
        canvas.rect(shape.x, rows - shape.y - shape.height, shape.width, shape.height, stroke=0, fill=1)
    else:
        canvas.circle(shape.x, rows - shape.y, shape.radius, stroke=0, fill=1)


def geometry(target: Target) -> bytes:
    """Where everything lies, for whatever reads a photo of the test."""
    return to_json(target).encode()


WRITERS = {"pdf": pdf, "svg": svg, "png": png, "json": geometry}
CONTENT_TYPES = {"pdf": "application/pdf", "svg": "image/svg+xml", "png": "image/png", "json": "application/json"}
