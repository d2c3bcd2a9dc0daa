"""Exposing a production screen: the time from the chart with its reason, or none."""

from django.core.cache import cache
from django.shortcuts import redirect, render
from django.utils import timezone

from frimble.coatings.coats.queries import current_coat
from frimble.core import cautions, lifecycle
from frimble.core.conclusions import InvalidInput
from frimble.core.exposure.chart.production import production_time
from frimble.core.exposure.light.source import contact_caution, units_for
from frimble.core.exposure.steptest.reading import SCHOOLS
from frimble.core.stencil.alternatives import THERMAL_WORDS, other_ways
from frimble.exposures.chart import prediction
from frimble.exposures.chart import queries as chart_queries
from frimble.exposures.models import Exposure, Lamp
from frimble.exposures.production import adjustments as time_adjustments
from frimble.exposures.production.forms import ExposeForm, LightForm
from frimble.exposures.room import LightRoom
from frimble.exposures.timer import services as timer_services
from frimble.films.models import FilmProcess
from frimble.people import settings as house_settings
from frimble.people.permissions import recorders
from frimble.screens.models import Screen
from frimble.screens.steps.pages import get_screen

_MOST_FREE, _LOOKED_AT, _KEPT_S = 6, 40, 60


def last_light(person):
    """Lamp and film this person used last, else whoever exposed last did, else the first of each."""
    lately = list(Exposure.objects.select_related("event", "lamp", "film_process").order_by("-pk")[:_LOOKED_AT])
    last = next((e for e in lately if e.event.by_id == person.pk), lately[0] if lately else None)
    if last:
        return {"lamp": last.lamp, "film_process": last.film_process}
    return {"lamp": Lamp.objects.first(), "film_process": FilmProcess.objects.first()}


def _light_for(request, screen, entries):
    """Lamp and film chosen in the address, else those this coat is calibrated for, else those last used."""
    form = LightForm(request.GET)
    if form.is_valid():
        return form.cleaned_data
    usual = chart_queries.usual_light(screen, entries)
    return {"lamp": usual[0], "film_process": usual[1]} if usual else last_light(request.user)


@recorders
def expose(request, code):
    """Expose a production screen: the time from the chart with its reason, or none."""
    screen = get_screen(code)
    found = lifecycle.verdict(screen.life, "expose", timezone.now(), house_settings.current())
    entries = chart_queries.entries_in_force()
    light = _light_for(request, screen, entries)
    form = ExposeForm(request.POST or None, initial=light | {"revision": screen.revision})
    if request.method == "POST":
        form.is_valid()  # What was chosen stays chosen when something else is wrong.
        light |= {k: form.cleaned_data[k] for k in ("lamp", "film_process") if form.cleaned_data.get(k)}
    coat = current_coat(screen)
    time = entry = estimate = predicted = None
    factors = ()
    if coat and all(light.values()):
        room = LightRoom(house_settings.current())
        meter = form.cleaned_data.get("meter") if request.method == "POST" and hasattr(form, "cleaned_data") else None
        calibrated, entry = chart_queries.time_for(screen, light["lamp"], light["film_process"], room, coat, entries)
        factors = time_adjustments.factors_for(entry, coat.batch, meter, room) if entry else ()
        time = production_time(calibrated, factors, room.settings)
        if time.refused:
            estimate, predicted = prediction.for_screen(screen, light["lamp"], light["film_process"], room.settings)
    if request.method == "POST":
        run = form.attempt(lambda data: _start(screen, request.user, data, time, entry))
        if run:
            return redirect("exposures:run", run.pk)
        screen = get_screen(code)
    context = {
        "screen": screen,
        "verdict": found,
        "form": form,
        "coat": coat,
        "time": time,
        "entry": entry,
        "chosen": light,
        "headroom": chart_queries.film_headroom(light["film_process"], entry, room) if entry else None,
        "school_words": SCHOOLS[entry.school] if entry else "",
        "factors": factors,
        "estimate": estimate,
        "predicted": predicted,
        "units": _units(light["lamp"], time),
        "contact": contact_caution(light["lamp"].contact, light["lamp"].geometry) if light["lamp"] else "",
        "ways": _other_ways() if time is None or time.refused else (),
        "thermal": THERMAL_WORDS if screen.mesh.thermal else "",
        "caution": cautions.for_step("expose"),
        "may_override": found.overridable and request.user.is_lead,
    }
    return render(request, "exposures/production/expose.html", context, status=422 if form.errors else 200)


def _other_ways():
    """Thermal-film screens that stand free, and the sun; kept for a minute."""
    return cache.get_or_set("other-ways", _read_other_ways, _KEPT_S)


def _read_other_ways():
    free = Screen.objects.for_lists().filter(installation__mesh__thermal=True, state=lifecycle.State.BARE)
    suns = Lamp.objects.filter(kind=Lamp.Kind.SUN).values_list("name", flat=True)
    return other_ways(tuple(s.code for s in free[:_MOST_FREE]), tuple(suns))


def _units(lamp, time):
    """The time in the lamp's own light units, or None where it has no integrator."""
    if not (lamp and lamp.units_a_second and time and not time.refused):
        return None
    return units_for(time.value, lamp.units_a_second)


def _start(screen, person, data, time, entry):
    own = data["own_time_s"]
    if own is None and (time is None or time.refused):
        raise InvalidInput(
            "No calibrated time exists: run a step test, or type a time of your own with a reason.", "own_time_s"
        )
    why = f"Not calibrated: {data['own_reason']}" if own is not None else time.reason
    return timer_services.start_exposure(
        screen.code,
        person,
        lamp=data["lamp"],
        film_process=data["film_process"],
        time_s=own if own is not None else time.value,
        entry=None if own is not None else entry,
        why=why[:400],
        revision=data["revision"],
        override_reason=data["override_reason"],
        film=data["film"],
        meter=data["meter"],
        sky=data["sky"],
    )
