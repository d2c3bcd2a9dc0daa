"""Where ghosts and damage lie on a screen: drawn, tapped or typed; and what is gone."""

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render

from frimble.core.conclusions import InvalidInput
from frimble.people.permissions import recorders
from frimble.screens.blemishes import queries as blemish_queries
from frimble.screens.blemishes import services as blemish_services
from frimble.screens.blemishes.forms import BlemishForm
from frimble.screens.models import Blemish
from frimble.screens.steps.pages import get_screen
from frimble.ui.input import row_number
from frimble.ui.roomlight import in_room_light, picture_answer


@recorders
def marks(request, code):
    """Where something lies on a screen's mesh: drawn, tapped or typed; and what is gone."""
    screen = get_screen(code)
    clearing = request.method == "POST" and "blemish" in request.POST
    form = BlemishForm(None if clearing else request.POST or None, None if clearing else request.FILES or None)
    if clearing:
        done = _clear(request, screen)
    else:
        done = request.method == "POST" and form.attempt(
            lambda cleaned: blemish_services.note_blemish(screen, request.user, **cleaned)
        )
    if done:
        messages.success(request, f"{screen.code}: {'no more ' if clearing else ''}{done.get_kind_display()}.")
        return redirect("screens:marks", screen.code)
    context = {
        "screen": screen,
        "form": form,
        "blemishes": blemish_queries.standing(screen.installation).select_related("by"),
    }
    return render(request, "screens/blemishes/marks.html", context, status=422 if form.errors else 200)


def mark_photo(request, pk):
    """A mark's photograph in the light of the room."""
    mark = get_object_or_404(Blemish.objects.exclude(photo=""), pk=pk)
    return picture_answer(in_room_light(mark.photo, request))


def _clear(request, screen):
    """Clear the mark a button names; a button that is out of date says so."""
    try:
        return blemish_services.clear_blemish(screen, request.user, row_number(request.POST.get("blemish")))
    except (ValueError, InvalidInput):
        messages.error(request, "That mark is not on this screen any more.")
        return None
