"""Where on the print something is wrong: tapped on its drawing."""

from django.contrib import messages
from django.shortcuts import redirect, render

from frimble.people.permissions import press_reporters
from frimble.press.defects import presenters
from frimble.press.defects import services as defect_services
from frimble.press.defects.forms import DefectForm, ShowsForm
from frimble.screens.steps.pages import get_screen
from frimble.stencils.models import StencilPhoto


@press_reporters
def where(request, code):
    """The newest sheet of this stencil, to tap on; without one the page says how to get it."""
    screen = get_screen(code)
    sheets = StencilPhoto.objects.that_tell().filter(installation=screen.installation_id, cycle__closed_at=None)
    sheet = sheets.exclude(straight="").order_by("-at", "-pk").first()
    answering = "fault" in request.POST
    form = DefectForm(request.POST if request.method == "POST" and not answering else None)
    asked = ShowsForm(request.POST) if answering else form
    act = defect_services.answer if answering else defect_services.tap
    if sheet and request.method == "POST":
        done = asked.attempt(lambda cleaned: act(sheet, request.user, **cleaned))
        if done:
            messages.success(request, f"{screen.code}: {done}.")
            return redirect("press:where", screen.code)
    context = {
        "screen": screen,
        "sheet": sheet,
        "form": form,
        "asked": asked,
        "part": presenters.part(sheet, screen.code) if sheet else None,
    }
    return render(request, "press/defects/where.html", context, status=422 if asked.errors else 200)
