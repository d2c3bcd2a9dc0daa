"""Exposing a production screen: the time from the chart with its reason, or none."""

from django.db.models import Case, When
from django.shortcuts import redirect, render
from django.utils import timezone

from frimble.coatings.coats.queries import current_coat
from frimble.core import cautions, lifecycle, practice
from frimble.core.conclusions import InvalidInput
from frimble.core.stencil.alternatives import THERMAL_WORDS
from frimble.exposures.chart import queries as chart_queries
from frimble.exposures.models import Exposure, Lamp
from frimble.exposures.production import films, presenters, stops
from frimble.exposures.production.adjustments import SunNow
from frimble.exposures.production.forms import ExposeForm, LightForm, SunForm
from frimble.exposures.timer import services as timer_services
from frimble.films.models import FilmProcess
from frimble.people import settings as house_settings
from frimble.people.permissions import recorders
from frimble.screens import reminders
from frimble.screens.blemishes import queries as blemish_queries
from frimble.screens.steps.pages import get_screen

_LOOKED_AT = 40


def last_light(person):
    """Lamp and film this person used last, else whoever exposed last did, else the first of each."""
    lately = Exposure.objects.order_by("-pk").values("pk")[:_LOOKED_AT]
    own_first = Case(When(event__by=person.pk, then=0), default=1)
    joined = Exposure.objects.filter(pk__in=lately).select_related("lamp", "film_process")
    last = joined.order_by(own_first, "-pk").first()
    if last:
        return {"lamp": last.lamp, "film_process": last.film_process}
    return {"lamp": Lamp.objects.first(), "film_process": FilmProcess.objects.first()}


def _light_for(request, lights, screen, entries, coat):
    """Lamp and film chosen in the address, else those this coat is calibrated for, else those last used."""
    if lights.is_valid():
        return lights.cleaned_data
    usual = chart_queries.usual_light(screen, entries, coat)
    return {"lamp": usual[0], "film_process": usual[1]} if usual else last_light(request.user)


@recorders
def expose(request, code):
    """Expose a production screen: the time from the chart with its reason, or none."""
    screen = get_screen(code)
    verdict = lifecycle.verdict(screen.life, "expose", timezone.now(), house_settings.current())
    entries = chart_queries.entries_in_force()
    coat = current_coat(screen)
    lights = LightForm(request.GET)
    light = _light_for(request, lights, screen, entries, coat)
    sun = _sun_now(request)
    to_choose = films.offered(screen)
    start = light | {
        "revision": screen.revision,
        "meter": sun.meter,
        "sky": sun.sky,
        "film": films.meant_one(to_choose),
    }
    form = ExposeForm(request.POST or None, initial=start)
    form.offer_as(lights)
    form.fields["film"].offer(to_choose)
    light |= _chosen(form)
    part = presenters.time_part(screen, light, coat, entries, sun, house_settings.current())
    if request.method == "POST":
        run = form.attempt(lambda data: _start(screen, request.user, data, part))
        if run:
            return redirect("exposures:run", run.pk)
        screen = get_screen(code)
    marks = list(blemish_queries.standing(screen.installation))
    context = {
        "screen": screen,
        "verdict": verdict,
        "form": form,
        "coat": coat,
        "chosen": light,
        "part": part,
        "ways": presenters.ways(lights.fields["lamp"].records) if part.refused else (),
        "time": part.time,
        "entry": part.entry,
        "factors": part.factors,
        "contact": presenters.contact_words(light["lamp"]),
        "thermal": THERMAL_WORDS if screen.mesh.thermal else "",
        "stops": list(stops.stops(screen, coat, None)) if coat else [],
        "marks": marks,
        "asks_place": stops.any_prints(marks),
        "caution": cautions.for_step("expose"),
        "hands": practice.hands("expose"),
        "learning": request.user.is_learning,
        "reminders": reminders.of("expose", request.user),
        "may_override": (verdict.overridable or form.overridable) and request.user.is_lead,
    }
    return render(request, "exposures/production/expose.html", context, status=422 if form.errors else 200)


def _chosen(form) -> dict:
    """Lamp and film as sent: what was chosen stays chosen when something else is wrong."""
    if not form.is_bound:
        return {}
    form.is_valid()
    return {k: form.cleaned_data[k] for k in ("lamp", "film_process") if form.cleaned_data.get(k)}


def _sun_now(request) -> SunNow:
    """What the light meter shows and how the sky is, where they were sent."""
    form = SunForm(request.POST or request.GET)
    form.is_valid()
    return SunNow(form.cleaned_data.get("meter"), form.cleaned_data.get("sky", ""))


def _start(screen, person, data, part):
    own = data["own_time_s"]
    if own is None and part.refused:
        raise InvalidInput(
            "No calibrated time exists: run a step test, or type a time of your own with a reason.", "own_time_s"
        )
    why = f"Not calibrated: {data['own_reason']}" if own is not None else part.time.reason
    return timer_services.start_exposure(
        screen.code,
        person,
        lamp=data["lamp"],
        film_process=data["film_process"],
        time_s=own if own is not None else part.time.value,
        entry=None if own is not None else part.entry,
        why=why[:400],
        revision=data["revision"],
        override_reason=data["override_reason"],
        film=data["film"],
        meter=data["meter"],
        sky=data["sky"],
        keeps_off=data["keeps_off"],
    )
