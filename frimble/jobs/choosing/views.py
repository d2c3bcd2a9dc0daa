"""Choosing the screens of a job, one by one or for all coming jobs at once."""

from django.contrib import messages
from django.db.models import Sum
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone

from frimble.core.numbers import counted
from frimble.jobs.choosing import ganging, presenters, queries, services
from frimble.jobs.choosing.forms import GangForm, HoldAllForm, HoldForm, LetGoForm
from frimble.jobs.models import ScreenNeed
from frimble.people import settings as house_settings
from frimble.people.permissions import recorders

# Colours that are assigned together: more than this no room makes in a week.
_AT_ONCE = 60
_DONE = {"hold": "{code} is held for {need}.", "let-go": "Let go.", "gang": "{need} goes on that screen too."}


@recorders
def choose(request, number, pk):
    """The screens for one colour of a job, ranked, each with what speaks for and against it."""
    need = get_object_or_404(
        ScreenNeed.objects.select_related("job", "mesh", "film", "frame", "beside__job"), pk=pk, job__number=number
    )
    settings, asked = house_settings.current(), request.POST.get("act", "hold") if request.method == "POST" else ""
    if asked == "apart":
        ganging.set_apart(need)
        return redirect("jobs:job", number)
    others = ganging.may_join(need)
    forms = {
        "hold": HoldForm(request.POST if asked == "hold" else None),
        "let-go": LetGoForm(request.POST if asked == "let-go" else None, auto_id="id_let_go_%s"),
        "gang": GangForm(request.POST if asked == "gang" else None, others=others),
    }
    acts = {
        "hold": lambda cleaned: services.hold(need, person=request.user, settings=settings, **cleaned),
        "let-go": lambda cleaned: services.let_go(need, request.user, **cleaned) or True,
        "gang": lambda cleaned: ganging.gang_up(need, cleaned["leader"], settings, timezone.now()) or True,
    }
    if asked in acts and forms[asked].attempt(acts[asked]):
        messages.success(request, _DONE[asked].format(need=need.key, code=request.POST.get("code", "")))
        return redirect("jobs:job", number)
    found = presenters.choice(queries.want(need), queries.candidates([need], settings, timezone.now()), settings)
    context = {
        "need": need, "choice": found, "film": need.film,
        "form": forms["hold"], "let_go": forms["let-go"], "gang": forms["gang"], "may_gang": others.exists(),
    }  # fmt: skip
    status = 422 if any(form.errors for form in forms.values()) else 200
    return render(request, "jobs/choosing/choose.html", context, status=status)


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
    wanting = queries.open_needs().filter(frame__isnull=True, number__gt=0)
    needs = [need for need in wanting[:_AT_ONCE] for _ in range(need.number)][:_AT_ONCE]
    more = max(0, (wanting.aggregate(all=Sum("number"))["all"] or 0) - len(needs))
    wants = [queries.want(need) for need in needs]
    found = presenters.week(needs, wants, queries.candidates(needs, settings, timezone.now()), settings)
    context = {"week": found, "form": form, "more": more}
    return render(request, "jobs/choosing/week.html", context, status=422 if form.errors else 200)
