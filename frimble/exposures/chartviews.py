"""The exposure chart, the sheet for the wall, and the ledger of light given."""

from django.core.paginator import Paginator
from django.shortcuts import render
from django.utils import timezone

from frimble.exposures import calibration, drift, prediction, staleness
from frimble.exposures.models import Exposure, Lamp
from frimble.people import standards

_ON_A_PAGE = 60


def exposure_chart(request):
    """Every calibrated time in force, or those of one mesh; then what is in use untested, foretold and never as measured."""
    only = request.GET.get("mesh", "")
    in_force = standards.current()
    untested, teaches = ((), None) if only.isdigit() else prediction.untested(in_force)
    context = {
        "rows": _rows(only, in_force), "lamps": Lamp.objects.all(), "untested": untested, "teaches": teaches,
        "drifting": drift.drifting(in_force),
    }  # fmt: skip
    return render(request, "exposures/chart.html", context)


def _rows(only: str, in_force) -> list[tuple]:
    """(entry, stale, days, what moved in the pot, what else moved) of each entry in force."""
    entries = [e for e in calibration.entries_in_force() if not only.isdigit() or e.mesh_id == int(only)]
    entries.sort(key=lambda e: (e.mesh.count_per_cm, e.formula, e.lamp.name))
    now, stale = timezone.now(), in_force["exposure.stale_days"]
    pots = calibration.emulsion_moved(entries, now, in_force)
    return [
        (
            e,
            (now - e.accepted_at).days > stale,
            (now - e.accepted_at).days,
            pots.get(e.pk),
            staleness.moved(e, None, in_force),
        )
        for e in entries
    ]


def printed(request):
    """The sheet for the wall: the shop's own calibrated times and nothing else."""
    return render(
        request, "exposures/chart_print.html", {"rows": _rows("", standards.current()), "now": timezone.now()}
    )


def ledger(request):
    """Every light given, newest first: planned and given, in seconds and in the lamp's own units."""
    given = Exposure.objects.select_related("event__meshing__frame", "event__by", "lamp", "film", "entry").order_by(
        "-event__at"
    )
    page = Paginator(given, _ON_A_PAGE).get_page(request.GET.get("page"))
    return render(request, "exposures/ledger.html", {"page": page})
