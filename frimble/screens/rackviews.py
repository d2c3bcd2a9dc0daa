"""The racks as they stand, and putting a screen away."""

from django.contrib import messages
from django.shortcuts import redirect, render

from frimble.core import lifecycle, storage
from frimble.core.conclusion import OutOfRange
from frimble.people import standards
from frimble.people.permissions import recorders
from frimble.screens import actions
from frimble.screens.forms import (
    PlaceForm,
)
from frimble.screens.models import Rack, Screen, Slot
from frimble.screens.stepviews import get_screen


@recorders
def place(request, code):
    """Put a screen into a slot of the rack's drawing."""
    screen = get_screen(code)
    form = PlaceForm(request.POST or None, initial={"revision": screen.revision, "slot": request.GET.get("slot", "")})

    def put(cleaned):
        try:
            slot = Slot.objects.select_related("rack", "screen__frame").get(code=cleaned["slot"].strip().upper())
        except Slot.DoesNotExist:
            raise OutOfRange(f"No slot is called {cleaned['slot']}.", "slot") from None
        return actions.place(screen.code, slot, request.user, revision=cleaned["revision"], note=cleaned["note"])

    if request.method == "POST":
        done = form.attempt(put)
        if done:
            messages.success(request, f"{screen.code}: {done.summary}.")
            return redirect("screens:rack")
        screen = get_screen(code)
    context = {
        "screen": screen,
        "form": form,
        "refused": lifecycle.place_refused(screen.life),
        "racks": _racks(for_screen=screen),
    }
    return render(request, "screens/place.html", context, status=422 if form.errors else 200)


def rack(request):
    """The racks as they stand."""
    wanted = request.GET.get("slot", "").upper()
    loose = Screen.objects.for_lists().filter(slot__isnull=True, state=lifecycle.State.BARE)
    return render(request, "screens/rack.html", {"racks": _racks(marked=wanted), "marked": wanted, "loose": loose})


def _racks(for_screen=None, marked=""):
    """Racks with their slots; with a screen, each free slot knows whether it takes it."""
    in_force = standards.current()
    racks = []
    for found in Rack.objects.prefetch_related("slots__screen__frame", "slots__screen__meshing__mesh"):
        slots = []
        for slot in found.slots.all():
            slot.rack = found
            holder = getattr(slot, "screen", None)
            reason = ""
            if for_screen is not None:
                reason = storage.why_not(actions.screen_facts(for_screen), actions.slot_facts(slot), in_force)
            slots.append({"slot": slot, "screen": holder, "reason": reason, "marked": slot.code == marked})
        free = sum(1 for s in slots if s["screen"] is None)
        racks.append({"rack": found, "slots": slots, "free": free})
    return racks
