"""Placing films on a screen: the plan, drawn to scale, and printed 1:1."""

import io
import re
from dataclasses import replace

from django.http import HttpResponse
from django.shortcuts import render

from frimble.core.conclusions import InvalidInput
from frimble.core.film.placement import Art, Bench, plan_films
from frimble.core.mesh.blemishes import in_the_way
from frimble.core.units import read_quantity
from frimble.films.placement.forms import PlacementForm
from frimble.people import settings as house_settings
from frimble.screens.blemishes import queries as blemish_queries
from frimble.screens.models import Screen
from frimble.ui.pictures.film.placement import DASHED, NAMED, placement_file, words_of

_POINTS_PER_MM = 72 / 25.4
_SIDE = r"\d+(?:[.,]\d+)?\s*(?:mm|cm|in|\")?"
_ART = re.compile(
    rf"^\s*(?P<name>.*?)[\s:,]+(?P<width>{_SIDE})\s*[x×]\s*(?P<height>{_SIDE})"
    r"(?:[\s,;]+(?P<time>\d+(?:[.,]\d+)?)\s*s)?[\s,;]*(?P<tape>tape)?\s*$",
    re.I,
)


def placement(request):
    """The plan for what was typed, with its warnings and the two printable files."""
    form, plan = _planned(request)
    context = {"form": form, "plan": plan, "query": request.GET.urlencode()}
    return render(request, "films/placement.html", context, status=422 if form.errors else 200)


def as_svg(request):
    """The plan as an SVG at true scale."""
    return _file(request, lambda plan: placement_file(plan).encode(), "image/svg+xml", "svg")


def as_pdf(request):
    """The plan as a PDF page of the frame's own size."""
    return _file(request, _pdf, "application/pdf", "pdf")


def _file(request, write, kind, ending):
    form, plan = _planned(request)
    if plan is None:
        said = " ".join(e for errors in form.errors.values() for e in errors) or "Type the frame and an image first."
        return HttpResponse(said, status=422, content_type="text/plain; charset=utf-8")
    answer = HttpResponse(write(plan), content_type=kind)
    answer["Content-Disposition"] = f'attachment; filename="placement.{ending}"'
    return answer


def _planned(request):
    start = {"frame_width": "580", "frame_height": "790", "arts": "Pennant 250 x 180"}
    form = PlacementForm(request.GET if "arts" in request.GET else start)
    return form, form.attempt(lambda cleaned: _plan(**cleaned))


def _plan(*, screen, frame_width, frame_height, arts, transfer, **lengths):
    optional = {f"{name}_mm": value for name, value in lengths.items()}
    on_screen = _screen(screen) if screen else None
    size = (
        (on_screen.frame.outer_width_mm, on_screen.frame.outer_height_mm) if on_screen else (frame_width, frame_height)
    )
    bench = Bench(*size, transfer=transfer, **optional)
    plan = plan_films(bench, [_art(line) for line in arts.splitlines() if line.strip()], house_settings.current())
    if on_screen:
        marks = [b.as_core() for b in blemish_queries.standing(on_screen.installation)]
        plan = replace(plan, warnings=plan.warnings + tuple(in_the_way(marks, plan.of("image"))))
    return plan


def _screen(code: str) -> Screen:
    screen = Screen.objects.for_lists().filter(frame__code=code.strip().upper()).first()
    if screen is None:
        raise InvalidInput(f"No screen is called {code}.", "screen")
    return screen


def _art(text: str) -> Art:
    match = _ART.match(text)
    if not match or not match["name"]:
        raise InvalidInput(
            f"“{text.strip()}” is not an image. Write its name and size, such as Pennant 250 x 180.", "arts"
        )
    try:
        width, height = (read_quantity(side, "mm") for side in _with_units(match["width"], match["height"]))
    except InvalidInput as error:
        raise InvalidInput(str(error), "arts") from None
    time_s = float(match["time"].replace(",", ".")) if match["time"] else None
    return Art(match["name"][:60], width, height, used=not match["tape"], time_s=time_s)


def _with_units(width: str, height: str) -> tuple[str, str]:
    """A unit said once, after the height, is meant for both: 10 x 12 in."""
    unit = height.lstrip("0123456789.,").strip()
    return (width if not unit or width.lstrip("0123456789.,").strip() else f"{width.strip()} {unit}"), height


def _pdf(plan) -> bytes:
    from reportlab.pdfgen import canvas

    file = io.BytesIO()
    width, height = plan.bench.frame_width_mm, plan.bench.frame_height_mm
    page = canvas.Canvas(file, pagesize=(width * _POINTS_PER_MM, height * _POINTS_PER_MM))
    page.setTitle("Placement, 1:1")
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
    page.save()
    return file.getvalue()
