"""The exposure chart, and the sheet for the wall."""

from urllib.parse import urlencode

from django.contrib import messages
from django.core.paginator import Paginator
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone

from frimble.exposures.chart import prediction
from frimble.exposures.chart import queries as chart_queries
from frimble.exposures.chart import services as chart_services
from frimble.exposures.chart.coverage import coverage
from frimble.exposures.chart.forms import WithdrawForm
from frimble.exposures.chart.lines import lines_of
from frimble.exposures.models import ChartEntry, ChartWithdrawal
from frimble.exposures.room import LightRoom
from frimble.people import settings as house_settings
from frimble.people.permissions import leads
from frimble.ui.input import number_in

_REASONS_ON_A_PAGE, _WITHDRAWN = 8, 10
# What a line about an entry says of it.
_SAID = ("mesh", "emulsion", "lamp", "film_process")


def exposure_chart(request):
    """Calibrated times in force, of all or one mesh; then what is in use untested, predicted and never as measured."""
    only = number_in(request.GET.get("mesh", ""))
    room, entries = LightRoom(house_settings.current()), chart_queries.entries_in_force()
    untested, teaches = ((), None) if only else prediction.untested(room, entries)
    shown = [e for e in entries if not only or e.mesh_id == only]
    lines = lines_of(shown, room)
    page = Paginator(lines, _REASONS_ON_A_PAGE).get_page(request.GET.get("page"))
    context = {
        "page": page,
        "only": only or "",
        "untested": untested,
        "teaches": teaches,
        "coverage": coverage(lines, _pages_of(lines, only), untested, teaches),
        "withdrawn": ChartWithdrawal.objects.select_related("by", *(f"entry__{c}" for c in _SAID))[:_WITHDRAWN],
        "drifting": [(last, strips) for last, _, strips in room.drifts(entries) if strips.signal],
    }
    return render(request, "exposures/chart/chart.html", context)


def _pages_of(lines, only: int | None) -> list[str]:
    """The address of the page that each line stands on."""
    kept = {"mesh": only} if only else {}
    return [f"?{urlencode(kept | {'page': k // _REASONS_ON_A_PAGE + 1})}" for k in range(len(lines))]


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


def printed(request):
    """The sheet for the wall: the shop's own calibrated times and nothing else."""
    lines = lines_of(chart_queries.entries_in_force(), LightRoom(house_settings.current()))
    context = {"lines": [line.on_wall for line in lines], "now": timezone.now()}
    return render(request, "exposures/chart/chart_print.html", context)
