"""The shop's own step-test film, to be printed."""

import io

from django.http import Http404, HttpResponse
from django.shortcuts import render

from frimble.core.conclusions import InvalidInput
from frimble.exposures.steptests.film.forms import TargetFilmForm
from frimble.people import settings as house_settings
from frimble.ui.roomlight import asks_dark, png

_STEPS, _DPI = 9, 600


def target_film(request):
    """Choose steps and printer, see the film, take it in the format the printer reads."""
    form = TargetFilmForm(request.GET if "steps" in request.GET else {"steps": _STEPS, "dpi": _DPI})
    film = form.attempt(lambda data: _design(data["steps"], data["dpi"]))
    return render(
        request,
        "exposures/steptests/film.html",
        {"form": form, "film": film, "kinds": ("svg", "png", "json")},
        status=422 if form.errors else 200,
    )


def download(request, steps, dpi, kind):
    """The film as a file."""
    # The drawing libraries load with the first film, not with the first page.
    from PIL import Image

    from frimble.core.exposure.target.writers import CONTENT_TYPES, WRITERS

    if kind not in WRITERS:
        raise Http404
    try:
        film = _design(steps, dpi)
    except InvalidInput as error:
        raise Http404(str(error)) from None
    data = WRITERS[kind](film)
    if kind == "png" and asks_dark(request):
        data = png(Image.open(io.BytesIO(data)), True)
    answer = HttpResponse(data, content_type=CONTENT_TYPES[kind])
    answer["Content-Disposition"] = (
        f'{"inline" if kind == "png" else "attachment"}; filename="step-test-{steps}-steps.{kind}"'
    )
    return answer


def _design(steps: int, dpi: int):
    from frimble.core.exposure.target.geometry import design

    return design(steps, dpi, house_settings.current())
