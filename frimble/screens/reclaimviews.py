"""The guided reclaim: its steps with their timers, its record, and where ghosts and damage lie on the screen."""

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone

from frimble.core.conclusions import OutOfRange
from frimble.core.stencil import reclaim as rules
from frimble.people import standards
from frimble.people.permissions import leads, recorders
from frimble.screens import actions, blemishes
from frimble.screens.models import Blemish, ReclaimProduct
from frimble.screens.stepforms import BlemishForm, ProductForm, ReclaimForm
from frimble.screens.stepviews import StepPage, get_screen, show_step
from frimble.ui.roomlight import in_room_light, picture_answer

RECLAIM = StepPage(
    "reclaim", ReclaimForm,
    lambda form, screen, person: actions.reclaim(
        screen.code, person, rounds=form.cleaned_data["rounds"], minutes=form.cleaned_data["minutes"],
        outcome=form.cleaned_data["outcome"], products=_products(), **form.common()),
    "Record reclaimed", template="screens/reclaim.html",
)  # fmt: skip


_LEAVES_MARKS = ("ghost", "faint", "damage")


@recorders
def reclaim(request, code):
    """Reclaim one screen, step by step."""

    def extra(screen, in_force, form):
        kept = (timezone.now() - screen.since).days if screen.since else 0
        old = kept > in_force["reclaim.old_days"]
        ghosts = [b for b in blemishes.standing(screen.meshing) if b.kind in ("ghost", "haze")]
        products = ReclaimProduct.objects.in_bulk(field_name="step")
        steps = rules.steps(in_force, old=old, haze=bool(ghosts))
        return {
            "guide": [{"step": s, "product": products.get(s.name), "dwell": _dwell(s, products)} for s in steps],
            "old": kept if old else None,
            "blemishes": blemishes.standing(screen.meshing),
        }

    answer = show_step(request, code, RECLAIM, extra)
    if answer.status_code == 302 and request.POST.get("outcome") in _LEAVES_MARKS:
        messages.info(request, "Mark where it lies, so that the next image keeps off it.")
        return redirect("screens:marks", code)
    return answer


def _dwell(step, products):
    """The product's own dwell where the shop wrote it down, else the house's."""
    product = products.get(step.name)
    return product.dwell_s if product and product.dwell_s else step.dwell_s


def _products() -> dict[str, dict]:
    """Name and dwell of what stands at the booth, by step, for the record."""
    found = ReclaimProduct.objects.values_list("step", "name", "dwell_s")
    return {step: {"name": name, "dwell_s": dwell} for step, name, dwell in found}


@recorders
def marks(request, code):
    """Where something lies on a screen's mesh: drawn, tapped or typed; and what is gone."""
    screen = get_screen(code)
    clearing = request.method == "POST" and "blemish" in request.POST
    form = BlemishForm(None if clearing else request.POST or None, None if clearing else request.FILES or None)
    if clearing:
        done = _clear(request, screen)
    else:
        done = request.method == "POST" and form.attempt(
            lambda cleaned: blemishes.note_blemish(screen, request.user, **cleaned)
        )
    if done:
        messages.success(request, f"{screen.code}: {'no more ' if clearing else ''}{done.get_kind_display()}.")
        return redirect("screens:marks", screen.code)
    context = {"screen": screen, "form": form, "blemishes": blemishes.standing(screen.meshing).select_related("by")}
    return render(request, "screens/marks.html", context, status=422 if form.errors else 200)


def mark_photo(request, pk):
    """A mark's photograph in the light of the room."""
    mark = get_object_or_404(Blemish.objects.exclude(photo=""), pk=pk)
    return picture_answer(in_room_light(mark.photo, request))


def _clear(request, screen):
    """Clear the mark a button names; a button that is out of date says so."""
    try:
        return blemishes.clear_blemish(screen, request.user, int(request.POST["blemish"]))
    except (ValueError, OutOfRange):
        messages.error(request, "That mark is not on this screen any more.")
        return None


@leads
def products(request):
    """What the shop uses at each step of the reclaim."""
    in_force = standards.current()
    names = [s.name for s in rules.steps(in_force, haze=True) if s.pad]
    form = ProductForm(request.POST or None, steps=names, kept=ReclaimProduct.objects.in_bulk(field_name="step"))
    if request.method == "POST" and form.attempt(lambda cleaned: form.store()):
        messages.success(request, "Products kept.")
        return redirect("screens:products")
    return render(request, "screens/products.html", {"form": form}, status=422 if form.errors else 200)
