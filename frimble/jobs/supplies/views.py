"""What the room uses up: what to order, each with its records and its safety sheet."""

import csv

from django.contrib import messages
from django.http import FileResponse, Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render

from frimble.jobs.models import Supply
from frimble.jobs.supplies import queries, services
from frimble.jobs.supplies.forms import SupplyForm, SupplyRecordForm
from frimble.people.permissions import recorders

_RECORDS_SHOWN = 30


@recorders
def supplies(request):
    """Every supply, what is to be ordered first; a scanned code leads to its own page."""
    code = request.GET.get("code", "").strip()
    found = Supply.objects.filter(code__iexact=code).first() if code else None
    if found:
        return redirect("jobs:supply", found.pk)
    form = SupplyForm(request.POST or None, request.FILES or None)
    if request.method == "POST":
        made = form.attempt(lambda cleaned: services.name_supply(**cleaned))
        if made:
            return redirect("jobs:supply", made.pk)
    context = {"rows": queries.rows(), "form": form, "code": code, "clashes": queries.stand_apart()}
    return render(request, "jobs/supplies/supplies.html", context, status=422 if form.errors else 200)


@recorders
def supply(request, pk):
    """One supply: how long it lasts, its records, and what it must not meet."""
    shown = get_object_or_404(Supply, pk=pk)
    form = SupplyRecordForm(request.POST or None)
    if request.method == "POST":
        kept = form.attempt(lambda cleaned: services.record_supply(shown, request.user, **cleaned))
        if kept:
            messages.success(request, f"Recorded: {kept}.")
            return redirect("jobs:supply", pk)
    records = shown.records.select_related("by").order_by("-at", "-pk")[:_RECORDS_SHOWN]
    context = {"row": queries.row(shown), "records": records, "form": form}
    return render(request, "jobs/supplies/supply.html", context, status=422 if form.errors else 200)


def shopping_list(request):
    """What is to be ordered, as CSV."""
    answer = HttpResponse(content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = 'attachment; filename="shopping-list.csv"'
    writer = csv.writer(answer)
    writer.writerow(["supply", "there", "unit", "order by", "why"])
    for row in queries.rows():
        if row.order_by:
            why = row.outlook.reason
            writer.writerow([row.supply.name, f"{row.outlook.stock:g}", row.supply.unit, row.order_by.isoformat(), why])
    return answer


def safety_sheet(request, pk):
    """The sheet as it was filed."""
    shown = get_object_or_404(Supply, pk=pk)
    if not shown.safety_sheet:
        raise Http404("No safety sheet is filed.")
    return FileResponse(shown.safety_sheet.open(), content_type="application/pdf", filename=f"{shown.pk}.pdf")
