"""Choosing the screens of a job, one by one or for all coming jobs at once."""

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone

from frimble.core.numbers import counted
from frimble.jobs.choosing import presenters, queries, services
from frimble.jobs.choosing.forms import HoldAllForm, HoldForm, LetGoForm
from frimble.jobs.models import ScreenNeed
from frimble.people import settings as house_settings
from frimble.people.permissions import recorders


@recorders
def choose(request, number, pk):
    """The screens for one colour of a job, ranked, each with what speaks for and against it."""
    need = get_object_or_404(
        ScreenNeed.objects.select_related("job", "mesh", "film", "frame"), pk=pk, job__number=number
    )
    settings, letting_go = house_settings.current(), request.POST.get("act") == "let-go"
    hold = HoldForm(None if letting_go else request.POST or None)
    let_go = LetGoForm(request.POST if letting_go else None)
    if request.method == "POST":
        form, act = (let_go, services.let_go) if letting_go else (hold, services.hold)
        extra = {} if letting_go else {"settings": settings}
        if form.attempt(lambda cleaned: act(need, person=request.user, **extra, **cleaned) or True):
            messages.success(
                request, "Let go." if letting_go else f"{hold.cleaned_data['code']} is held for {need.key}."
            )
            return redirect("jobs:job", number)
    wanted = queries.want(need)
    found = presenters.choice(wanted, queries.candidates([need], settings, timezone.now()), settings)
    context = {"need": need, "choice": found, "form": hold, "let_go": let_go, "film": need.film}
    return render(request, "jobs/choosing/choose.html", context, status=422 if hold.errors or let_go.errors else 200)


@recorders
def week(request):
    """Every colour of the coming jobs without a screen, and the screens that suit all of them together best."""
    settings = house_settings.current()
    form = HoldAllForm(request.POST or None)
    if request.method == "POST":
        held = form.attempt(lambda cleaned: services.hold_all(cleaned["pairs"], request.user, settings))
        if held:
            messages.success(request, f"{counted(len(held), 'screen is held', 'screens are held')}.")
            return redirect("jobs:week")
    needs = [need for need in queries.open_needs().filter(frame__isnull=True) for _ in range(need.number)]
    wants = [queries.want(need) for need in needs]
    found = presenters.week(needs, wants, queries.candidates(needs, settings, timezone.now()), settings)
    context = {"week": found, "form": form}
    return render(request, "jobs/choosing/week.html", context, status=422 if form.errors else 200)
