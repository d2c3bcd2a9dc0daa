"""Measuring a coat with the thickness gauge."""

from django.contrib import messages
from django.http import JsonResponse
from django.shortcuts import redirect, render

from frimble.coatings import thickness
from frimble.coatings.actions import current_coat
from frimble.coatings.forms import ThicknessForm
from frimble.core.coating import parse_formula
from frimble.core.instruments.thickness_gauge import read_coat
from frimble.people import standards
from frimble.people.permissions import recorders
from frimble.screens.stepviews import get_screen


@recorders
def measure(request, code):
    """Readings of the bare mesh and of the coat, typed or from the simulated gauge, against what was expected."""
    screen, in_force = get_screen(code), standards.current()
    start = {"revision": screen.revision, "bare_um": f"{screen.mesh.geometry(in_force).fabric_thickness_um:.0f}"}
    form = ThicknessForm(request.POST or None, initial=start)
    if request.method == "POST":
        done = form.attempt(lambda cleaned: thickness.record_thickness(screen.code, request.user, **cleaned))
        if done:
            messages.success(request, f"{screen.code}: {done.summary}.")
            return redirect("screens:passport", screen.code)
    coat = current_coat(screen)
    context = {"screen": screen, "form": form, "coat": coat, "expected": _expected(screen, coat, in_force)}
    return render(request, "coatings/thickness.html", context, status=422 if form.errors else 200)


def _expected(screen, coat, in_force):
    if coat is None:
        return None
    return thickness.expected(screen, parse_formula(coat.formula, in_force), coat.batch.emulsion, in_force)


def gauge(request, code):
    """Readings of the simulated gauge: the bare mesh and a coat some way off what is expected."""
    screen, in_force = get_screen(code), standards.current()
    fabric = screen.mesh.geometry(in_force).fabric_thickness_um
    expected = _expected(screen, current_coat(screen), in_force)
    seed = screen.pk * 100 + screen.revision
    true = fabric + (expected.value if expected else 0) * (0.85 + seed % 7 * 0.05)
    return JsonResponse({"bare_um": round(fabric), "coated_um": " ".join(f"{v:g}" for v in read_coat(true, seed))})
