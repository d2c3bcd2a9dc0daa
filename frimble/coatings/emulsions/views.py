"""Emulsions side by side, and one entered or mended."""

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render

from frimble.coatings.emulsions import services as emulsion_services
from frimble.coatings.emulsions.forms import EmulsionCardForm, EmulsionForm
from frimble.coatings.models import Emulsion
from frimble.core.emulsion import batch as rules
from frimble.people.permissions import leads


def emulsions(request):
    """Emulsions side by side: what each stands, suits, holds and costs, and its colours before and after light."""
    form = EmulsionForm(request.GET if "ink" in request.GET else None)
    rows = [(e, []) for e in Emulsion.objects.all()]
    if form.is_bound and form.is_valid():
        data = form.cleaned_data
        rows = [
            (
                e,
                rules.unsuited(
                    e.resists,
                    e.suits,
                    e.finest_um,
                    ink=data["ink"],
                    dyed=bool(data["dyed"]),
                    detail_um=data["detail_um"],
                ),
            )
            for e, _ in rows
        ]
        rows.sort(key=lambda row: (len(row[1]), row[0].cost_l or 0))
    context = {"form": form, "rows": rows, "asked": form.is_bound}
    return render(request, "coatings/emulsions/emulsions.html", context)


@leads
def emulsion(request, pk=None):
    """Enter an emulsion, or mend what is written of one."""
    shown = get_object_or_404(Emulsion, pk=pk) if pk else None
    start = {name: getattr(shown, name) for name in EmulsionCardForm.base_fields} if shown else {}
    if shown:
        start["solids"] = f"{shown.solids * 100:g}"
    form = EmulsionCardForm(request.POST or None, initial=start)
    if request.method == "POST":
        kept = form.attempt(lambda data: emulsion_services.keep_emulsion(shown, data))
        if kept:
            messages.success(request, f"{kept} is written down.")
            return redirect("coatings:emulsions")
    context = {"form": form, "emulsion": shown}
    return render(request, "coatings/emulsions/emulsion.html", context, status=422 if form.errors else 200)
