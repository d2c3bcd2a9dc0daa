"""The coating rack: coat a screen, keep batches."""

from datetime import datetime, time

from django.contrib import messages
from django.http import JsonResponse
from django.shortcuts import redirect, render
from django.utils import timezone

from frimble.coatings import actions, thickness
from frimble.coatings.forms import BatchForm, CoatForm
from frimble.coatings.models import Batch, CoatRecipe, Emulsion
from frimble.core.coating import parse_formula
from frimble.core.conclusion import OutOfRange
from frimble.core.instruments.hygrometer import read_cabinet
from frimble.core.lifecycle import State
from frimble.core.units import fahrenheit, show_minutes
from frimble.people import standards
from frimble.people.permissions import recorders
from frimble.screens.stepviews import StepPage, get_screen, show_step


def _do_coat(form, screen, person):
    data = form.cleaned_data
    return actions.coat(
        screen.code,
        person,
        formula=data["formula"],
        batch=data["batch"],
        air_c=data["air_c"],
        humidity=data["humidity"] / 100,
        **form.common(),
    )


def _coat_page(inch):
    def initial(screen, in_force):
        begun = actions.current_coat(screen) if screen.state == State.PART_COATED else None
        cabinet_c = in_force["dry.cabinet_c"]
        return {
            "formula": begun.formula if begun else "",
            "batch": begun.batch_id if begun else None,
            "air_c": f"{fahrenheit(cabinet_c) if inch else cabinet_c:.4g}",
            "humidity": f"{in_force['dry.cabinet_rh'] * 100:.0f}",
        }

    return StepPage("coat", CoatForm, _do_coat, "Record coat", template="coatings/coat.html", initial=initial)


@recorders
def coat(request, code):
    """Lay the next layer: formula as steps to tick off, batch with its age, drying time."""
    inch = request.user.units == "inch"

    def extra(screen, in_force, form):
        now = timezone.now()
        batches = [(b, b.age(now, in_force)) for b in form.fields["batch"].queryset]
        layer = screen.layers_done + 1 if screen.state == State.PART_COATED else 1
        return {"batches": batches, "recipes": form.recipes, "layer": layer, "fill": in_force["coat.fill"]}

    return show_step(request, code, _coat_page(inch), extra, {"inch": inch})


def preview(request, code):
    """What a formula still being typed means, and when it would be dry; stored nowhere."""
    screen, in_force = get_screen(code), standards.current()
    layer = screen.layers_done + 1 if screen.state == State.PART_COATED else 1
    try:
        parsed = parse_formula(request.GET.get("formula", ""), in_force)
    except OutOfRange as error:
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
    if all(data.get(k) is not None for k in ("batch", "air_c", "humidity")):
        try:
            drying = actions.predict(
                screen.mesh, str(parsed), layer, data["batch"].emulsion, data["air_c"], data["humidity"] / 100, in_force
            )
        except OutOfRange as error:
            answer["dry"] = str(error)
        else:
            answer["dry"] = drying.reason if drying.refused else _dry_words(drying)
        answer["eom"] = _eom_words(screen, parsed, data["batch"].emulsion, in_force)
    return JsonResponse(answer)


def _eom_words(screen, formula, emulsion, in_force) -> str:
    """What the finished coat will measure, and how far that is to be trusted."""
    told = thickness.expected(screen, formula, emulsion, in_force)
    return (
        f"The finished coat will stand about {told.value:.0f} µm over the mesh ({told.low:.0f} to {told.high:.0f}), "
        f"{told.verdict}. Rests on {told.rests_on}."
    )


def _dry_words(drying):
    ready = timezone.localtime(timezone.now() + timezone.timedelta(minutes=drying.value))
    return (
        f"This layer is dry in about {show_minutes(drying.value)} ({show_minutes(drying.low)} to "
        f"{show_minutes(drying.high)}), at {ready:%H:%M}. {drying.reason}"
    )


def cabinet(request):
    """A reading of the simulated cabinet hygrometer."""
    air_c, humidity = read_cabinet(int(timezone.now().timestamp()) // 60)
    shown = fahrenheit(air_c) if request.user.units == "inch" else air_c
    return JsonResponse({"air_c": round(shown, 1), "humidity": round(humidity * 100)})


@recorders
def batches(request):
    """Emulsions and their batches, with how much of each life is used; a new batch is entered here."""
    in_force, now = standards.current(), timezone.now()
    form = BatchForm(request.POST or None)
    if request.method == "POST":

        def mix(data):
            mixed_at = timezone.make_aware(datetime.combine(data["mixed_on"], time(0)))
            return actions.mix_batch(data["code"], data["emulsion"], mixed_at, data["kept_c"], request.user)

        done = form.attempt(mix)
        if done:
            messages.success(request, f"Batch {done.code} entered.")
            return redirect("coatings:batches")
    rows = [
        (b, b.age(now, in_force)) for b in Batch.objects.filter(finished_at__isnull=True).select_related("emulsion")
    ]
    context = {"form": form, "rows": rows, "emulsions": Emulsion.objects.all(), "recipes": CoatRecipe.objects.all()}
    return render(request, "coatings/batches.html", context, status=422 if form.errors else 200)
