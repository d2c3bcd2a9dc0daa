"""What went wrong with a stencil: symptoms tapped, causes ranked against its records, the cause that was found."""

from django.contrib import messages
from django.shortcuts import redirect, render
from django.utils import timezone

from frimble.core import cautions
from frimble.core.stencil.diagnosis.codes import FACTS
from frimble.core.stencil.diagnosis.model import diagnose
from frimble.people import settings as house_settings
from frimble.people.permissions import recorders
from frimble.screens.steps.pages import get_screen
from frimble.stencils.diagnosis import presenters, queries, records, services
from frimble.stencils.diagnosis.forms import FoundForm, SeenForm


@recorders
def diagnosis(request, code):
    """Symptoms and answers come in the address, so that a page may be kept and sent to somebody; the cause is posted."""
    screen = get_screen(code)
    known = records.facts_of(screen, house_settings.current(), timezone.now())
    seen_form, found = _asked(request.GET, known)
    facts = records.values(known) | seen_form.answers()
    form = FoundForm(request.POST or None)
    if request.method == "POST":
        confirmed = form.attempt(
            lambda data: services.confirm(
                screen, request.user, diagnosis=found, symptoms=seen_form.seen(), facts=facts, **data
            )
        )
        if confirmed:
            messages.success(request, f"{screen.code}: {confirmed.label}. The next ones are weighed by it.")
            return redirect("stencils:diagnosis", screen.code)
    context = {
        "screen": screen,
        "stages": presenters.tiles(seen_form.seen()),
        "seen_form": seen_form,
        "form": form,
        "part": presenters.part(found, seen_form.seen(), known, facts),
        "confirmed": queries.confirmed_on(screen.installation),
        "caution": cautions.for_step("reclaim"),
    }
    template = "answer" if "part" in request.GET else "diagnosis"
    return render(request, f"stencils/diagnosis/{template}.html", context, status=422 if form.errors else 200)


def _asked(sent, known):
    """The form with a field for what was answered and for what would tell most, and the diagnosis with the answers."""
    answered = [name for name in sent if name in FACTS and name not in known]
    form = SeenForm(sent, answerable=answered)
    found = diagnose(form.seen(), records.values(known) | form.answers(), queries.confirmed_counts())
    asked = [name for name in found.ask if name not in known][: presenters.ASKED]
    return SeenForm(sent, answerable=list(dict.fromkeys([*answered, *asked]))), found
