"""A photo of a bare mesh: sent, looked through, and its marks drawn."""

from django.contrib import messages
from django.shortcuts import redirect, render

from frimble.core.numbers import counted
from frimble.people.permissions import recorders
from frimble.screens.blemishes.photo import services
from frimble.screens.blemishes.photo.forms import BareMeshForm
from frimble.screens.steps.pages import get_screen


@recorders
def send(request, code):
    """What the photo shows is drawn onto the marks; the map is shown next."""
    screen = get_screen(code)
    form = BareMeshForm(request.POST or None, request.FILES or None)
    if request.method == "POST":
        outcome = form.attempt(lambda cleaned: services.inspect(screen, request.user, **cleaned))
        if outcome:
            _say(request, outcome)
            return redirect("screens:marks", screen.code)
    context = {"screen": screen, "form": form}
    return render(request, "screens/blemishes/mesh_photo.html", context, status=422 if form.errors else 200)


def _say(request, outcome) -> None:
    """The conclusion with its reason, and what to do first."""
    from frimble.core.mesh.inspection.kinds import FAULTS

    known = f" {counted(outcome.known, 'place')} on the map already." if outcome.known else ""
    if not outcome.made and outcome.passed:
        messages.success(request, f"Nothing new is seen on the mesh: it may be degreased and coated.{known}")
        return
    marked = {m.kind for m in outcome.made}
    todo = " ".join(f"{card.label}: {card.do}" for card in FAULTS.values() if card.mark in marked)
    may = "It may be coated." if outcome.passed else "Not to be coated yet."
    messages.info(request, f"{may} {todo}{known}".strip())
