"""Coaters: what was seen along their edges, and what each fits."""

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render

from frimble.coatings.coaters import queries as coater_queries
from frimble.coatings.coaters import services as coater_services
from frimble.coatings.coaters.forms import CoaterCheckForm, CoaterForm
from frimble.coatings.models import Coater
from frimble.core.coating import coater as coater_rules
from frimble.people import settings as house_settings
from frimble.people.permissions import recorders
from frimble.screens.models import Frame
from frimble.ui.input import row_number


@recorders
def coater_list(request):
    """Coaters with what was last seen along their edges, what each fits, and the screens coated with them."""
    settings = house_settings.current()
    form = CoaterForm(request.POST if request.POST.get("act") == "add" else None)
    if form.is_bound and (made := form.attempt(lambda data: coater_services.add(**data))):
        messages.success(request, f"{made} is written down.")
        return redirect("coatings:coaters")
    check = CoaterCheckForm(request.POST if request.POST.get("act") == "check" else None)
    if check.is_bound:
        looked_at = get_object_or_404(Coater, pk=row_number(request.POST.get("coater")))
        if check.attempt(lambda data: coater_services.check(looked_at, data["finding"], request.user, data["note"])):
            messages.success(request, f"{looked_at}: written down.")
            return redirect("coatings:coaters")
    standing = coater_queries.standing(settings)
    marked = {s.coater.pk: coater_queries.marked_screens(s.coater) for s in standing}
    context = {
        "standing": [(s, marked[s.coater.pk]) for s in standing],
        "form": form,
        "check": check,
        "frames": _frame_fits(standing, settings),
    }
    return render(request, "coatings/coaters/coaters.html", context, status=422 if form.errors or check.errors else 200)


def _frame_fits(standing, settings):
    """For each size of frame: the coaters that pass between its rails, with the widest image each covers."""
    rows = []
    for wide, high in (
        Frame.objects.order_by("outer_width_mm").values_list("outer_width_mm", "outer_height_mm").distinct()
    ):
        frame = Frame(outer_width_mm=wide, outer_height_mm=high)
        inner = coater_queries.inner_width_mm(frame, settings)
        passing = [
            (s.coater, coater_rules.largest_image_mm(s.coater.length_mm, settings))
            for s in standing
            if s.usable and coater_rules.fit(s.coater.length_mm, inner, 1, settings).fits
        ]
        rows.append({"wide": wide, "high": high, "passing": passing})
    return rows
