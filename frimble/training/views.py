"""Training: drills on simulated screens, progress, what leads sign, and how far readers agree."""

from django.contrib import messages
from django.http import Http404
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone

from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.core.training.drill import mark
from frimble.people import settings as house_settings
from frimble.people.models import Person
from frimble.people.permissions import allow, leads_only
from frimble.training import agreement, practice, presenters, queries, services
from frimble.training.forms import DrillForm
from frimble.training.made import drill_of
from frimble.training.models import DrillRun
from frimble.ui.input import row_number
from frimble.ui.roomlight import asks_dark, picture_answer, png

learners = allow(lambda person: not person.is_station, "Whoever has an account of their own")


@learners
def training(request):
    """One's own skills, and the drill that comes next."""
    if request.method == "POST":
        try:
            run = services.begin(request.user, request.POST.get("skill", ""))
        except InvalidInput as error:
            messages.error(request, str(error))
            return redirect("training:training")
        return redirect("training:drill", run.pk)
    found, now = queries.standings(request.user), timezone.now()
    left = queries.open_run(request.user)
    upcoming = left.skill if left else queries.next_skill(found, now).skill
    context = {
        "rows": [presenters.skill_row(standing, now) for standing in found],
        "next": upcoming,
        "next_title": presenters.title_of(upcoming),
        "left": left,
        "practice_url": practice.address(request.get_host().partition(":")[0]),
        "asks_signed": house_settings.current()["training.before_recording"] == "signed",
    }
    return render(request, "training/training.html", context)


@learners
def drill_page(request, pk):
    """One drill: what is shown and asked; once answered, what was right on the same picture."""
    run = get_object_or_404(DrillRun, pk=pk, person=request.user)
    shown = drill_of(run)
    form = DrillForm(shown, request.POST if request.method == "POST" and run.score is None else None)
    if form.is_bound and form.attempt(lambda given: services.answer(run, given)):
        return redirect("training:drill", pk)
    marked = _marked(shown, run)
    context = {
        "run": run,
        "title": presenters.title_of(run.skill),
        "drill": shown,
        "form": form,
        "parts": presenters.asked_parts(shown, form),
        "marked": marked,
        "answered": run.score is not None,
        "headline": presenters.headline(marked) if marked else "",
        "scene": shown.explained if marked else shown.scene,
        "photo": presenters.photo_part(shown, marked is not None),
        "clock": run.skill == "clock" and not marked,
    }
    return render(request, "training/drill.html", context, status=422 if form.errors else 200)


def _marked(shown, run: DrillRun):
    """The marks of an answered drill; None while it is open, or where house settings have made another drill of it since."""
    if run.score is None:
        return None
    try:
        return mark(shown, run.answer)
    except InvalidInput:
        return None


def photo(request, pk):
    """The picture of a drill that is a photo, in the light of the room."""
    run = get_object_or_404(DrillRun, pk=pk, person=request.user)
    shown = drill_of(run)
    if shown.photo is None:
        raise Http404("This drill has no photo.")
    from PIL import Image

    return picture_answer(png(Image.fromarray(shown.photo), asks_dark(request)))


@leads_only
def people(request):
    """Everybody's skills; a lead signs those that they have seen."""
    if request.method == "POST":
        person = get_object_or_404(Person, pk=row_number(request.POST.get("person", "")), is_active=True)
        try:
            services.sign(person, request.POST.get("skill", ""), request.user, signed="sign" in request.POST)
            messages.success(request, "Kept.")
        except (InvalidInput, RuleViolation) as error:
            messages.error(request, str(error))
        return redirect("training:people")
    now = timezone.now()
    everybody = Person.objects.filter(is_active=True).exclude(role=Person.Role.STATION).order_by("first_name", "pk")
    found = queries.standings_of(everybody)
    rows = [(person, [presenters.skill_row(one, now) for one in found[person.pk]]) for person in everybody]
    context = {"rows": rows, "pairs": agreement.pairs()}
    return render(request, "training/people.html", context)
