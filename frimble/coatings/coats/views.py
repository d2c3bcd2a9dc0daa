"""Coating a screen: the form, and what a formula still being typed means."""

from django.contrib import messages
from django.http import JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone

from frimble.coatings.batches import queries as batch_queries
from frimble.coatings.coaters import queries as coater_queries
from frimble.coatings.coats import queries as coat_queries
from frimble.coatings.coats import services as coat_services
from frimble.coatings.coats import stops as coat_stops
from frimble.coatings.coats.forms import CoatForm
from frimble.coatings.coats.usual import usual_coat
from frimble.coatings.drying import learning as drying_learning
from frimble.coatings.drying import queries as drying_queries
from frimble.coatings.models import Coat
from frimble.coatings.planner import outcomes
from frimble.coatings.thickness import queries as thickness_queries
from frimble.core.coating.defects import DEFECTS
from frimble.core.coating.drying import hold_minutes
from frimble.core.coating.formula import parse_formula
from frimble.core.conclusions import InvalidInput
from frimble.core.lifecycle import State
from frimble.core.units import fahrenheit, show_minutes
from frimble.people import settings as house_settings
from frimble.people.permissions import recorders
from frimble.screens.blemishes import queries as blemish_queries
from frimble.screens.steps.pages import StepPage, get_screen, show_step
from frimble.ui import instruments
from frimble.ui.input import row_number


def _do_coat(form, screen, person):
    data = form.cleaned_data
    return coat_services.coat(
        screen.code,
        person,
        formula=data["formula"],
        batch=data["batch"],
        air=form.air(),
        coater=data["coater"],
        fill=data["fill"],
        stroke_s=data["stroke_s"],
        ink=data["ink"],
        **form.common(),
    ).event


def shown_c(air_c, inch) -> str:
    """A temperature as it stands in a field."""
    return f"{fahrenheit(air_c) if inch else air_c:.4g}"


def _coater(screen, usual, settings, there):
    """The one used last where it fits this frame and may be used, else the best that does."""
    fitting = [s.coater for s, fit in coater_queries.fits(screen.frame, settings, among=there) if fit.fits and s.usable]
    last = usual.coater_id if usual else None
    return next((c for c in fitting if c.pk == last), next(iter(fitting), None))


def _coat_page(inch, air, there):
    def initial(screen, settings):
        begun = coat_queries.current_coat(screen) if screen.state == State.PART_COATED else None
        usual = None if begun else usual_coat(screen)
        return {
            "formula": begun.formula if begun else usual.formula if usual else "",
            "batch": begun.batch_id if begun else usual.batch if usual else None,
            "coater": _coater(screen, usual, settings, there),
            "fill": (usual and usual.fill) or settings["coat.fill"],
            "air_c": shown_c(air.air_c, inch),
            "humidity": f"{air.humidity * 100:.0f}",
            "fan": air.fan,
        }

    return StepPage("coat", CoatForm, _do_coat, "Record coat", template="coatings/coats/coat.html", initial=initial)


@recorders
def coat(request, code):
    """Lay the next layer: formula as steps to tick off, batch with its age, drying time."""
    inch, in_use = request.user.units == "inch", house_settings.current()
    air, there = drying_queries.air_now(in_use), coater_queries.standing(in_use)

    def extra(screen, settings, form):
        now = timezone.now()
        batch_rows = [
            (
                b,
                b.age(now, settings),
                batch_queries.warm_up_left_min(b, settings, now),
                batch_queries.stands_cold(b, settings, now),
            )
            for b in form.fields["batch"].queryset
        ]
        layer = coat_queries.next_layer(screen)
        return {
            "batches": batch_rows,
            "recipes": form.recipes,
            "layer": layer,
            "fill": settings["coat.fill"],
            "usual": usual_coat(screen) if layer == 1 else None,
            "known": [h for h in outcomes.formulas_on(screen.mesh, recipes=form.recipes) if h.coats or h.suits][:5],
            "fits": coater_queries.fits(screen.frame, settings, among=there),
            "stops": list(coat_stops.of_the_mesh(screen)) if layer == 1 else [],
            "marks": blemish_queries.standing(screen.installation),
            "damp": drying_queries.too_damp(air, settings),
        }

    return show_step(
        request, code, _coat_page(inch, air, there), extra, {"inch": inch, "coaters": [s.coater for s in there]}
    )


@recorders
def faults(request, code):
    """What is wrong with the coat on a screen, wet or dry, layer by layer: each fault with its cause and what to do."""
    screen = get_screen(code)
    coats = coat_queries.coats_of(screen)
    if request.method == "POST":
        laid = get_object_or_404(Coat, pk=row_number(request.POST.get("coat")), pk__in=[c.pk for c in coats])
        try:
            noted = coat_services.note_defect(laid, request.POST.get("kind", ""), request.user)
            messages.success(request, coat_services.remedy_words(noted))
        except InvalidInput as error:
            messages.error(request, str(error))
        return redirect("coatings:faults", screen.code)
    return render(request, "coatings/coats/faults.html", {"screen": screen, "coats": coats, "defects": DEFECTS})


def preview(request, code):
    """What a formula still being typed means, and when it would be dry; stored nowhere."""
    screen, settings = get_screen(code), house_settings.current()
    layer = coat_queries.next_layer(screen)
    try:
        parsed = parse_formula(request.GET.get("formula", ""), settings)
    except InvalidInput as error:
        return JsonResponse({"ok": False, "reason": str(error)})
    if layer > len(parsed.layers):
        return JsonResponse(
            {"ok": False, "reason": f"Layer {layer} is next, but this formula has {len(parsed.layers)}."}
        )
    notes = list(parsed.notes)
    if len(parsed.layers) > 1:
        notes.insert(0, f"This record is for layer {layer} of {len(parsed.layers)}; each is recorded when it is laid.")
    answer = {
        "ok": True,
        "formula": str(parsed),
        "steps": parsed.layer_steps(layer),
        "notes": notes,
        "dry": "",
        "eom": "",
    }
    form = CoatForm({**request.GET.dict(), "revision": 0}, inch=request.user.units == "inch")
    form.is_valid()
    data = form.cleaned_data
    if all(data.get(k) is not None for k in ("batch", "air_c", "humidity", "fan")):
        answer |= _predicted(screen, parsed, layer, data["batch"].emulsion, form, settings, request.user)
    return JsonResponse(answer)


def _predicted(screen, parsed, layer, emulsion, form, settings, person) -> dict:
    """Drying time and thickness in words."""
    fill = form.cleaned_data.get("fill", "")
    try:
        drying = drying_learning.expected(screen.mesh, parsed, layer, emulsion, form.air(), settings, fill=fill)
    except InvalidInput as error:
        dry = str(error)
    else:
        dry = drying.reason if drying.refused else _dry_words(drying, settings)
    try:
        expected = thickness_queries.expected(screen.mesh, parsed, emulsion, settings, fill=fill, person=person)
    except InvalidInput as error:
        return {"dry": dry, "eom": str(error)}
    eom = (
        f"The finished coat will stand about {expected.value:.0f} µm over the mesh ({expected.low:.0f} to "
        f"{expected.high:.0f}), {expected.verdict}. Rests on {expected.rests_on}."
    )
    return {"dry": dry, "eom": eom}


def _dry_words(drying, settings):
    hold = hold_minutes(drying.interval, settings)
    ready = timezone.localtime(timezone.now() + timezone.timedelta(minutes=hold))
    return (
        f"This layer is held for {show_minutes(hold)}, until {ready:%H:%M}; look from {show_minutes(drying.value)} on. "
        f"Nine of ten dry within {show_minutes(drying.low)} to {show_minutes(drying.high)}. {drying.reason} "
        f"Rests on {drying.rests_on}."
    )


def cabinet(request):
    """A reading of the cabinet's hygrometer."""
    gauge = instruments.hygrometer()

    def read():
        air_c, humidity = gauge.read_cabinet(int(timezone.now().timestamp()) // 60)
        shown = fahrenheit(air_c) if request.user.units == "inch" else air_c
        return {"air_c": round(shown, 1), "humidity": round(humidity * 100)}

    return instruments.answer(gauge, read)
