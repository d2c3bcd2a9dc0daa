"""Measuring a coat with the thickness gauge, and how steadily the room coats."""

from django.contrib import messages
from django.shortcuts import redirect, render
from django.utils import timezone

from frimble.coatings.coats.queries import current_coat
from frimble.coatings.models import FILLS, CoatThickness
from frimble.coatings.planner import outcomes
from frimble.coatings.thickness import queries as thickness_queries
from frimble.coatings.thickness import services as thickness_services
from frimble.coatings.thickness.forms import ThicknessForm
from frimble.core.coating.defects import DEFECTS
from frimble.core.coating.formula import parse_formula, print_side_share
from frimble.people import settings as house_settings
from frimble.people.models import Person
from frimble.people.permissions import recorders
from frimble.screens.steps.pages import get_screen
from frimble.ui import instruments
from frimble.ui.input import number_in


@recorders
def measure(request, code):
    """Readings of the bare mesh and of the coat, typed or from the simulated gauge, against what was expected."""
    screen, settings = get_screen(code), house_settings.current()
    start = {"revision": screen.revision, "bare_um": f"{screen.mesh.geometry(settings).fabric_thickness_um:.0f}"}
    form = ThicknessForm(request.POST or None, initial=start)
    if request.method == "POST":
        done = form.attempt(lambda cleaned: thickness_services.record_thickness(screen.code, request.user, **cleaned))
        if done:
            messages.success(request, f"{screen.code}: {done.summary}.")
            return redirect("screens:passport", screen.code)
    coat = current_coat(screen)
    context = {"screen": screen, "form": form, "coat": coat, "expected": _expected(screen, coat, settings)}
    context |= _section(screen, coat, settings)
    return render(request, "coatings/thickness/thickness.html", context, status=422 if form.errors else 200)


def _section(screen, coat, settings) -> dict:
    """What the cut through mesh and coat is drawn from."""
    if coat is None:
        return {}
    geometry = screen.mesh.geometry(settings)
    aims = tuple(settings[key] * geometry.fabric_thickness_um for key in ("coat.thin_share", "coat.ordinary_share"))
    share = print_side_share(parse_formula(coat.formula, settings), settings)
    last = coat.thicknesses.filter(event__replaced_by__isnull=True).last()
    return {"geometry": geometry, "aim": aims, "print_share": share, "measured_um": last.eom_um if last else None}


def _expected(screen, coat, settings):
    if coat is None:
        return None
    formula = parse_formula(coat.formula, settings)
    return thickness_queries.expected(
        screen.mesh, formula, coat.batch.emulsion, settings, fill=coat.fill, person=coat.event.by
    )


def gauge(request, code):
    """Readings of the thickness gauge: the bare mesh and a coat some way off what is expected."""
    screen, settings = get_screen(code), house_settings.current()
    fabric = screen.mesh.geometry(settings).fabric_thickness_um
    expected = _expected(screen, current_coat(screen), settings)
    seed = screen.pk * 100 + screen.revision
    true = fabric + (expected.value if expected else 0) * (0.85 + seed % 7 * 0.05)
    chosen = instruments.thickness_gauge()

    def read():
        return {"bare_um": round(fabric), "coated_um": " ".join(f"{v:g}" for v in chosen.read_coat(true, seed))}

    return instruments.answer(chosen, read)


def steadiness(request):
    """The control chart of coats by person and formula, what moved where one is off, and what each hand's coats showed."""
    settings = house_settings.current()
    person = request.GET.get("person", "")
    formula = request.GET.get("formula", "")
    charts = thickness_queries.steadiness(settings, person_id=number_in(person), formula=formula)
    laid = CoatThickness.objects.filter(event__replaced_by__isnull=True)
    context = {
        "found": charts,
        "labels": [f"{t.frame} {timezone.localdate(t.at):%d.%m.}" for t in charts.taken],
        "people": Person.objects.filter(pk__in=laid.values("coat__event__by")),
        "person": person,
        "formula": formula,
        "formulas": laid.order_by("coat__formula").values_list("coat__formula", flat=True).distinct(),
        "tallies": outcomes.by_person(settings),
        "fills": outcomes.fills_by_person(),
        "fill_names": [w for _, w in FILLS],
        "defects": DEFECTS,
    }
    return render(request, "coatings/thickness/steadiness.html", context)
