"""The exposure chart."""

from django.shortcuts import render
from django.utils import timezone

from frimble.exposures import calibration
from frimble.exposures.models import Lamp
from frimble.people import standards


def exposure_chart(request):
    """Every calibrated time in force, or those of one mesh, with its window and what it rests on."""
    only = request.GET.get("mesh", "")
    entries = [e for e in calibration.entries_in_force() if not only.isdigit() or e.mesh_id == int(only)]
    entries.sort(key=lambda e: (e.mesh.count_per_cm, e.formula, e.lamp.name))
    now, in_force = timezone.now(), standards.current()
    stale = in_force["exposure.stale_days"]
    moved = calibration.emulsion_moved(entries, now, in_force)
    rows = [(e, (now - e.accepted_at).days > stale, (now - e.accepted_at).days, moved.get(e.pk)) for e in entries]
    return render(request, "exposures/chart.html", {"rows": rows, "lamps": Lamp.objects.all()})
