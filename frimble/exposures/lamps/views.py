"""Light sources: what each says now, and what is read off or done to it."""

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone

from frimble.exposures.chart import queries as chart_queries
from frimble.exposures.lamps import queries as lamp_queries
from frimble.exposures.lamps import services as lamp_services
from frimble.exposures.lamps.forms import LampForm, LampRecordForm
from frimble.exposures.models import Lamp, LampRecord
from frimble.exposures.room import LightRoom
from frimble.people import settings as house_settings
from frimble.people.permissions import leads, recorders
from frimble.ui import instruments

_FORMS = (
    (LampRecord.Kind.HOURS, "Hours", ("hours",), "Record hours"),
    (LampRecord.Kind.METER, "Light", ("light_mw_cm2",), "Record the light"),
    (LampRecord.Kind.FIELD, "Evenness", ("field", "read_as"), "Keep the field map"),
    (LampRecord.Kind.REPLACED, "Replaced", ("note",), "New bulb or tubes: every time under it is tested again"),
)


def lamps_list(request):
    """Every light source with what wants doing."""
    room, entries = LightRoom(house_settings.current()), chart_queries.entries_in_force()
    states = [lamp_queries.state(lamp, room, entries) for lamp in Lamp.objects.all()]
    return render(request, "exposures/lamps/lamps.html", {"states": states})


@recorders
def lamp(request, pk):
    """One light source: hours and fading, field, contact, drift; and the forms that feed them."""
    lamp_shown = get_object_or_404(Lamp, pk=pk)
    form = LampRecordForm(request.POST or None)
    if request.method == "POST":
        done = form.attempt(lambda data: lamp_services.record(lamp_shown, request.user, **form.given()))
        if done:
            messages.success(request, f"{done}.")
            return redirect("exposures:lamp", pk)
    room, entries = LightRoom(house_settings.current()), chart_queries.entries_in_force(lamp=lamp_shown)
    asked = request.POST.get("kind")
    forms = [(*rest, form if asked == rest[0] else LampRecordForm()) for rest in _FORMS]
    forms = [(kind, title, label, f, [f[name] for name in shown]) for kind, title, shown, label, f in forms]
    context = lamp_queries.state(lamp_shown, room, entries) | {
        "records": lamp_queries.lately(lamp_shown),
        "forms": forms,
        "form": form,
        "drifts": _drifts(lamp_shown, room, entries),
        "even": room.settings["lamp.even_within"],
    }
    return render(request, "exposures/lamps/lamp.html", context, status=422 if form.errors else 200)


def _drifts(lamp: Lamp, room: LightRoom, entries) -> list[tuple]:
    """(emulsion, drift, labels) of each emulsion with enough strips under the lamp."""
    return [
        (
            last.emulsion,
            strips,
            [f"{s.screen}, {timezone.localtime(s.at):%-d %b}" for s in room.strips(lamp.pk, last.emulsion_id, since)],
        )
        for last, since, strips in room.drifts(entries)
        if last.lamp_id == lamp.pk
    ]


@leads
def edit(request, pk=None):
    """Enter or change a light source; its past stays in its history."""
    edited = get_object_or_404(Lamp, pk=pk) if pk else None
    initial = {name: getattr(edited, name) for name in lamp_services.FIELDS} if edited else None
    form = LampForm(request.POST or None, initial=initial)
    if request.method == "POST":
        saved = form.attempt(lambda data: lamp_services.save(edited or Lamp(), data))
        if saved:
            return redirect("exposures:lamp", saved.pk)
    return render(
        request, "exposures/lamps/edit_lamp.html", {"form": form, "lamp": edited}, status=422 if form.errors else 200
    )


@recorders
def meter(request, pk):
    """The light meter: the middle, and nine places."""
    lamp_read = get_object_or_404(Lamp, pk=pk)
    chosen = instruments.light_meter()
    return instruments.answer(chosen, lambda: lamp_queries.metered(chosen, lamp_read))
