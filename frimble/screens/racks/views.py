"""The racks as they stand, and putting a screen away."""

from django.contrib import messages
from django.db.models import prefetch_related_objects
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.utils.html import escape

from frimble.core import lifecycle
from frimble.core.conclusions import InvalidInput
from frimble.core.storage import racks as rack_rules
from frimble.people import settings as house_settings
from frimble.people.permissions import leads, recorders
from frimble.screens.models import Rack, Screen, Slot
from frimble.screens.racks import facts as rack_facts
from frimble.screens.racks import queries as rack_queries
from frimble.screens.racks import services as rack_services
from frimble.screens.racks.forms import ChangeRackForm, DrawnRackForm, PlaceForm, RackForm, WalkForm
from frimble.screens.steps.pages import get_screen
from frimble.ui.pictures.rack_elevation import rack_elevation

_LOOSE_SHOWN = 12
_SLOTS_SHOWN = 300


@recorders
def place(request, code):
    """Put a screen into a slot of the rack's drawing."""
    screen = get_screen(code)
    form = PlaceForm(request.POST or None, initial={"revision": screen.revision, "slot": request.GET.get("slot", "")})

    def put(cleaned):
        try:
            slot = Slot.objects.select_related("rack", "screen__frame").get(code=cleaned["slot"].strip().upper())
        except Slot.DoesNotExist:
            raise InvalidInput(f"No slot is called {cleaned['slot']}.", "slot") from None
        return rack_services.place(screen.code, slot, request.user, revision=cleaned["revision"], note=cleaned["note"])

    if request.method == "POST":
        done = form.attempt(put)
        if done:
            messages.success(request, f"{screen.code}: {done.summary}.")
            return redirect("screens:rack")
        screen = get_screen(code)
    drawn, others = _shown_racks(request.GET.get("rack", "").upper(), form["slot"].value() or "")
    shown = _racks(for_screen=screen, among=drawn)
    context = {
        "screen": screen,
        "form": form,
        "refused": lifecycle.place_refused(screen.life),
        "racks": shown,
        "others": others,
        "best": rack_queries.best_slot(screen),
    }
    return render(request, "screens/racks/place.html", context, status=422 if form.errors else 200)


def rack(request):
    """The racks as they stand."""
    wanted = request.GET.get("slot", "").upper()
    loose = Screen.objects.for_lists().filter(slot__isnull=True, state=lifecycle.State.BARE)
    shown, others = _shown_racks(request.GET.get("rack", "").upper(), wanted)
    racks = _racks(marked=wanted, among=shown)
    context = {
        "racks": racks,
        "others": others,
        "marked": wanted,
        "loose": loose[:_LOOSE_SHOWN],
        "sizes": rack_queries.free_by_size(),
        "coated": rack_queries.coated_oldest_first()[:_LOOSE_SHOWN],
    }
    return render(request, "screens/racks/rack.html", context)


@leads
def define(request):
    """Define a rack as it stands."""
    form = RackForm(request.POST or None)
    if request.method == "POST":
        made = form.attempt(lambda cleaned: rack_services.define(**cleaned))
        if made:
            messages.success(request, f"{made} is up, with {made.slots.count()} slots.")
            return redirect("screens:rack")
    return render(request, "screens/racks/define_rack.html", {"form": form}, status=422 if form.errors else 200)


def drawn(request):
    """The rack as it would stand, while somebody types; empty while the numbers are not all there."""
    form = DrawnRackForm(request.GET)
    slots = form.attempt(lambda data: rack_services.laid_out(**data))
    if not slots:
        return HttpResponse(escape(form.first_problem()))
    held = [{"slot": slot, "screen": None} for slot in slots]
    return HttpResponse(rack_elevation(slots[0].rack, held, timezone.now(), {}))


@leads
def change(request, pk):
    """Rename a rack, say how it stands, or take an empty one down."""
    edited = get_object_or_404(Rack, pk=pk)
    start = {"name": edited.name, "dark": edited.dark, "level": edited.level, "cabinet": edited.cabinet}
    form = ChangeRackForm(request.POST or None, initial=start)
    if request.method == "POST":
        done = form.attempt(lambda cleaned: _change(edited, "remove" in request.POST, **cleaned))
        if done:
            messages.success(request, f"{edited.name}: {done}.")
            return redirect("screens:rack")
    return render(
        request, "screens/racks/change_rack.html", {"form": form, "rack": edited}, status=422 if form.errors else 200
    )


def _change(found, taken_down, **cleaned) -> str:
    if taken_down:
        rack_services.remove(found)
        return "taken down"
    rack_services.change(found, **cleaned)
    return "kept as it stands"


@recorders
def walk(request, pk):
    """A stock-take: scan slot after slot, see what is missing, misplaced or unknown, and write it down."""
    walked = get_object_or_404(Rack, pk=pk)
    form = WalkForm(request.POST or None)
    seen = (
        form.attempt(lambda cleaned: rack_queries.read_walk(cleaned["walk"], walked))
        if request.method == "POST"
        else None
    )
    if seen and "write" in request.POST:
        number, refused = rack_services.write_down(seen, request.user)
        messages.success(request, f"{number} screen{'s' if number != 1 else ''} written down anew.")
        for reason in refused:
            messages.error(request, reason)
        return redirect("screens:rack")
    result = rack_queries.compare(seen) if seen else None
    context = {"rack": walked, "form": form, "result": result, "seen": seen, "slots": walked.slots.count()}
    return render(request, "screens/racks/walk.html", context, status=422 if form.errors else 200)


def _shown_racks(code="", marked=""):
    """(racks to draw, the others): all of a room, or one at a time where there are too many slots to see."""
    everything = list(Rack.objects.order_by("code"))
    if Slot.objects.count() <= _SLOTS_SHOWN or not everything:
        return everything, []
    asked = code or marked.partition("-")[0]
    shown = next((r for r in everything if r.code == asked), everything[0])
    return [shown], [r for r in everything if r is not shown]


def racks_drawn(among):
    """Racks with their slots and the screens in them, for drawing."""
    return _racks(among=among)


def _racks(for_screen=None, marked="", among=None):
    """Racks with their slots; with a screen, each free slot knows whether it takes it."""
    settings = house_settings.current()
    found_racks = []
    drawn = list(Rack.objects.all()) if among is None else among
    standing = {s.slot_id: s for s in Screen.objects.for_lists().filter(slot__rack__in=drawn)}
    prefetch_related_objects(drawn, "slots")
    for rack in drawn:
        slots = []
        for slot in rack.slots.all():
            slot.rack = rack
            holder, reason = standing.get(slot.pk), ""
            if for_screen is not None:
                reason = rack_rules.why_not(
                    rack_facts.screen_facts(for_screen), rack_facts.slot_facts(slot, holder), settings
                )
            slots.append({"slot": slot, "screen": holder, "reason": reason, "marked": slot.code == marked})
        free = sum(1 for s in slots if s["screen"] is None)
        found_racks.append({"rack": rack, "slots": slots, "free": free})
    return found_racks
