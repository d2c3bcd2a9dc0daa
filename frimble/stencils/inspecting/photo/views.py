"""A stencil inspected by photo: sent, drawn with its faults, each decided."""

from django.contrib import messages
from django.http import JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse

from frimble.core.conclusions import RuleViolation
from frimble.people.permissions import recorders
from frimble.screens.steps.pages import get_screen
from frimble.stencils.inspecting.photo import presenters, queries
from frimble.stencils.inspecting.photo import services as photo_services
from frimble.stencils.inspecting.photo.forms import ByEyeForm, DecisionForm, StencilPhotoForm, TapForm
from frimble.stencils.inspecting.photo.models import FindingDecision, StencilPhoto
from frimble.ui.roomlight import in_room_light, picture_answer

_SHOWN = 6


@recorders
def send(request, code):
    """Take a photo of the stencil on a screen and hold it against its film."""
    screen = get_screen(code)
    scans, own = queries.scans_for(screen)
    start = {"want_mm": "0.3", "pinhole_mm": "0.3", "scan": own}
    form = StencilPhotoForm(request.POST or None, request.FILES or None, scans=scans, initial=start)
    if request.method == "POST":
        taken = form.attempt(lambda data: photo_services.send(screen, request.user, **data))
        if taken:
            return redirect("stencils:photo", taken.pk)
    context = {
        "screen": screen,
        "form": form,
        "scans": scans,
        "photos": screen.installation.stencil_photos.select_related("by")[:_SHOWN],
    }
    return render(request, "stencils/inspecting/send_photo.html", context, status=422 if form.errors else 200)


@recorders
def by_eye(request, code):
    """Begin to mark faults on the film's drawing, without a photo."""
    screen = get_screen(code)
    scans, _ = queries.scans_for(screen)
    form = ByEyeForm(request.POST or None, scans=scans)
    begun = request.method == "POST" and form.attempt(lambda data: photo_services.by_eye(screen, request.user, **data))
    if begun:
        return redirect("stencils:photo", begun.pk)
    for said in form.errors.values():
        messages.error(request, " ".join(said))
    return redirect("stencils:send-photo", code)


@recorders
def photo(request, pk):
    """The straightened photo with its faults, and what is done about each."""
    shown = get_object_or_404(StencilPhoto.objects.select_related("installation__frame", "scan__film", "by"), pk=pk)
    if request.method == "POST" and "try_again" in request.POST:
        return _try_again(request, shown)
    tapping = request.method == "POST" and "kind" in request.POST
    tap_form = TapForm(request.POST if tapping else None)
    form = DecisionForm(None if tapping else request.POST or None)
    if tapping and tap_form.attempt(lambda data: photo_services.tap(shown, request.user, **data)):
        return redirect(reverse("stencils:photo", args=[pk]) + f"#finding-{shown.number_of_faults}")
    if request.method == "POST" and not tapping:
        decided = form.attempt(lambda data: photo_services.decide(shown, request.user, **data))
        if decided:
            return redirect(reverse("stencils:photo", args=[pk]) + f"#finding-{decided.finding + 2}")
    context = {
        "photo": shown,
        "code": shown.installation.frame.code,
        "part": presenters.part(shown) if shown.done else None,
        "form": form,
        "tap_form": tap_form,
        "choices": FindingDecision.What.choices,
    }
    status = 422 if form.errors or tap_form.errors else 200
    return render(request, "stencils/inspecting/photo.html", context, status=status)


def _try_again(request, shown):
    try:
        photo_services.try_again(shown)
    except RuleViolation as violation:
        messages.error(request, violation.reason)
    return redirect("stencils:photo", shown.pk)


def progress(request, pk):
    """How far a photo is held against its film."""
    return JsonResponse(get_object_or_404(StencilPhoto, pk=pk).progress())


def picture(request, pk):
    """The straightened photo in the light of the room."""
    shown = get_object_or_404(StencilPhoto.objects.exclude(straight=""), pk=pk)
    return picture_answer(in_room_light(shown.straight, request))
