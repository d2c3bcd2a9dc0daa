"""What the press says of a screen's prints: four taps, more if wanted, and what follows from it."""

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render

from frimble.core import cautions
from frimble.people import settings as house_settings
from frimble.people.permissions import press_reporters
from frimble.press.feedback import presenters, queries
from frimble.press.feedback import services as feedback_services
from frimble.press.feedback.forms import FeedbackForm
from frimble.press.feedback.models import PressFeedback
from frimble.screens.steps.pages import get_screen
from frimble.ui.roomlight import in_room_light, picture_answer


@press_reporters
def feedback(request, code):
    screen = get_screen(code)
    form = FeedbackForm(request.POST or None, request.FILES or None)
    if request.method == "POST":
        said = form.attempt(lambda data: feedback_services.record(screen, request.user, **data))
        if said:
            messages.success(request, f"{screen.code}: {said.words or 'impressions written down'}.")
            return redirect("press:feedback", screen.code)
    context = {
        "screen": screen,
        "form": form,
        "may_speak": screen.state in feedback_services.SPEAKS,
        "part": presenters.part(screen, queries.of_run(screen), house_settings.current()),
        "caution": cautions.for_step("from_press"),
    }
    return render(request, "press/feedback/feedback.html", context, status=422 if form.errors else 200)


def print_photo(request, pk):
    """A photograph of a print in the light of the room."""
    said = get_object_or_404(PressFeedback.objects.exclude(photo=""), pk=pk)
    return picture_answer(in_room_light(said.photo, request))
