"""The exposure chart, and the sheet for the wall."""

from copy import copy

from django.contrib import messages
from django.core.paginator import Paginator
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone

from frimble.exposures.chart import prediction, staleness
from frimble.exposures.chart import queries as chart_queries
from frimble.exposures.chart import services as chart_services
from frimble.exposures.chart.coverage import coverage
from frimble.exposures.chart.forms import WithdrawForm
from frimble.exposures.models import ChartEntry, ChartWithdrawal
from frimble.exposures.room import LightRoom
from frimble.people import settings as house_settings
from frimble.people.permissions import leads
from frimble.ui.input import number_in

_REASONS_ON_A_PAGE, _WITHDRAWN = 12, 10
# What a line about an entry says of it.
_SAID = ("mesh", "emulsion", "lamp", "film_process")


def exposure_chart(request):
    """Calibrated times in force, of all or one mesh; then what is in use untested, predicted and never as measured."""
    only = number_in(request.GET.get("mesh", ""))
    room, entries = LightRoom(house_settings.current()), chart_queries.entries_in_force()
    untested, teaches = ((), None) if only else prediction.untested(room, entries)
    shown = [e for e in entries if not only or e.mesh_id == only]
    rows = _rows(shown, room)
    for k, row in enumerate(rows):
        row[0].page = k // _REASONS_ON_A_PAGE + 1
    page = Paginator(rows, _REASONS_ON_A_PAGE).get_page(request.GET.get("page"))
    context = {
        "rows": page,
        "page": page,
        "only": only or "",
        "untested": untested,
        "teaches": teaches,
        "coverage": coverage([(row[0], _moved(row)) for row in rows], untested, teaches),
        "withdrawn": ChartWithdrawal.objects.select_related("by", *(f"entry__{c}" for c in _SAID))[:_WITHDRAWN],
        "drifting": [(last, strips) for last, _, strips in room.drifts(entries) if strips.signal],
    }
    return render(request, "exposures/chart/chart.html", context)


@leads
def withdraw(request, pk):
    """Take a calibrated time out of the chart, with the reason, which is kept."""
    entry = get_object_or_404(ChartEntry.objects.read(), pk=pk)
    form = WithdrawForm(request.POST or None)
    if request.method == "POST":
        done = form.attempt(lambda cleaned: chart_services.withdraw(entry, request.user, **cleaned))
        if done:
            messages.success(request, f"{done}.")
            return redirect("exposures:chart")
    context = {"entry": entry, "form": form, "before": chart_queries.held_before(entry)}
    return render(request, "exposures/chart/withdraw.html", context, status=422 if form.errors else 200)


def _rows(entries, room) -> list[tuple]:
    """(entry, stale, days, what moved in the batch, what else moved) of each entry in force."""
    # Copies: the page is written on them, and the entries are everybody's.
    entries = [copy(e) for e in sorted(entries, key=lambda e: (e.mesh.count_per_cm, e.formula, e.lamp.name))]
    now, stale = timezone.now(), room.settings["exposure.stale_days"]
    batches = chart_queries.emulsion_moved(entries, now, room)
    return [
        (
            e,
            (now - e.accepted_at).days > stale,
            (now - e.accepted_at).days,
            batches.get(e.pk),
            staleness.moved(e, None, room),
        )
        for e in entries
    ]


def _moved(row) -> str:
    """Why a calibrated time wants another test; empty while it holds."""
    entry, stale, days, batch, also = row
    if stale:
        return f"{days} days old: test again"
    if not entry.bracketed:
        return "not bracketed"
    return batch[0] if batch else "test again" if also else ""


def printed(request):
    """The sheet for the wall: the shop's own calibrated times and nothing else."""
    rows = _rows(chart_queries.entries_in_force(), LightRoom(house_settings.current()))
    return render(request, "exposures/chart/chart_print.html", {"rows": rows, "now": timezone.now()})
