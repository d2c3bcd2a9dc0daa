"""Reading a step test by a photo: sent, shown with what was measured, corrected by hand, taken over."""

from django.http import Http404
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse

from frimble.core.exposure.steptest.reading import CLOSED, GRADE_MEANING, UNCURED
from frimble.exposures.models import StepPhoto, StepTest
from frimble.exposures.steptests.photo import queries as photo_queries
from frimble.exposures.steptests.photo import services as photo_services
from frimble.exposures.steptests.photo.forms import PairForm, PhotoGradesForm, StepPhotoForm
from frimble.people import settings as house_settings
from frimble.people.permissions import recorders
from frimble.ui.roomlight import in_room_light, picture_answer

_SETUP = ("screen__frame", "mesh", "emulsion", "lamp", "film_process")


def photo_form(test: StepTest, settings, *args) -> StepPhotoForm:
    """The form that takes a photo of a test, begun with the house's finest wanted opening."""
    return StepPhotoForm(
        *args,
        initial={
            "wanted_um": f"{settings['steptest.wanted_opening_um']:g}",
            "scale_bar_mm": "200",
            "dpi": 600,
        },
    )


@recorders
def send(request, pk):
    """Take a photo and read it."""
    test = get_object_or_404(StepTest.objects.select_related(*_SETUP), pk=pk)
    sent = {**request.FILES.dict()}
    if "simulated" in request.POST:
        sent["photo"] = photo_services.simulated(test, 600)
    form = photo_form(test, house_settings.current(), *((request.POST, sent) if request.method == "POST" else ()))
    if request.method == "POST":
        photo = form.attempt(lambda data: photo_services.read(test, request.user, **data))
        if photo:
            return redirect("exposures:photo", photo.pk)
    context = {"test": test, "form": form, "photos": test.photos.select_related("by")[:6]}
    return render(request, "exposures/steptests/send_photo.html", context, status=422 if form.errors else 200)


@recorders
def photo(request, pk):
    """The photo with what was measured on it; its grades taken over as they are or set right by hand."""
    shown = get_object_or_404(StepPhoto.objects.select_related("step_test", "by"), pk=pk)
    test = StepTest.objects.select_related(*_SETUP).get(pk=shown.step_test_id)
    result, settings = photo_queries.result_of(shown), house_settings.current()
    form = PhotoGradesForm(request.POST or None, steps=result.steps, initial={"school": settings["exposure.school"]})
    if request.method == "POST" and form.attempt(
        lambda data: photo_services.take_over(shown, request.user, form.changed_grades(), data["school"])
    ):
        return redirect(reverse("exposures:reading", args=[test.pk]) + "#use")
    film = photo_queries.film_of(test, shown.dpi)
    context = {
        "photo": shown,
        "test": test,
        "result": result,
        "form": form,
        "film": film,
        "meanings": GRADE_MEANING,
        "shown": [round(w) for w in film.opening_widths_um],
        "picture_url": reverse("exposures:photo-picture", args=[pk]),
    }
    return render(request, "exposures/steptests/photo.html", context, status=422 if form.errors else 200)


def picture(request, pk):
    """The straightened photo in the light of the room."""
    photo = get_object_or_404(StepPhoto.objects.exclude(straight=""), pk=pk)
    return picture_answer(in_room_light(photo.straight, request, photo_queries.whole))


def step_picture(request, pk, index):
    """One step of it at full fineness."""
    photo = get_object_or_404(StepPhoto.objects.exclude(straight="").select_related("step_test"), pk=pk)
    film = photo_queries.film_of(photo.step_test, photo.dpi)
    if not 1 <= index <= len(film.steps):
        raise Http404
    return picture_answer(
        in_room_light(photo.straight, request, lambda image: photo_queries.strip_of(image, film, index))
    )


@recorders
def beside(request, pk):
    """Two steps side by side at one scale: of this photo, or of another test's."""
    photo = get_object_or_404(StepPhoto.objects.exclude(straight="").select_related("step_test"), pk=pk)
    steps = photo_queries.result_of(photo).steps
    if not steps:
        raise Http404
    first, second = _first_pair(steps)
    start = {"a": first, "b": second}
    form = PairForm(request.GET if "a" in request.GET else None, photo=photo, steps=steps, initial=start)
    pair = form.attempt(lambda data: photo_queries.pair(photo, data["a"], data["other"] or photo, data["b"]))
    if not form.is_bound:
        pair = photo_queries.pair(photo, first, photo, second)
    context = {"photo": photo, "form": form, "pair": pair, "test": photo.step_test}
    return render(request, "exposures/steptests/beside.html", context, status=422 if form.errors else 200)


def _first_pair(steps) -> tuple[int, int]:
    """The last short step and the first that closes, where there are such: the window's two neighbours."""
    ordered = sorted(steps, key=lambda s: s.time_s)
    short = [s.index for s in ordered if s.verdict in UNCURED]
    closed = [s.index for s in ordered if s.verdict in CLOSED]
    return (short or [ordered[0].index])[-1], (closed or [ordered[-1].index])[0]
