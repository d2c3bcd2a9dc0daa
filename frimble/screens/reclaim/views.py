"""The guided reclaim: its steps with their timers, its record, and the products at the booth."""

from django.contrib import messages
from django.shortcuts import redirect, render

from frimble.core.stencil import reclaim as rules
from frimble.people import moments
from frimble.people import settings as house_settings
from frimble.people.permissions import leads, recorders
from frimble.screens.blemishes import queries as blemish_queries
from frimble.screens.models import ReclaimProduct
from frimble.screens.reclaim import services as reclaim_services
from frimble.screens.reclaim.forms import ProductForm, ReclaimForm
from frimble.screens.steps.pages import StepPage, show_step

RECLAIM = StepPage(
    "reclaim",
    ReclaimForm,
    lambda form, screen, person: reclaim_services.reclaim(
        screen.code,
        person,
        rounds=form.cleaned_data["rounds"],
        minutes=form.cleaned_data["minutes"],
        outcome=form.cleaned_data["outcome"],
        products=_products(),
        **form.common(),
    ),
    "Record reclaimed",
    template="screens/reclaim/reclaim.html",
)


_LEAVES_MARKS = ("ghost", "faint", "emulsion", "damage")


@recorders
def reclaim(request, code):
    """Reclaim one screen, step by step."""

    def extra(screen, settings, form):
        kept = (moments.now() - screen.since).days if screen.since else 0
        old = kept > settings["reclaim.old_days"]
        ghosts = [b for b in blemish_queries.standing(screen.installation) if b.kind in ("ghost", "haze")]
        products = ReclaimProduct.objects.in_bulk(field_name="step")
        steps = rules.steps(settings, old=old, haze=bool(ghosts))
        return {
            "guide": [
                {
                    "step": s,
                    "product": products.get(s.name),
                    "dwell": _dwell(s, products),
                    "main": s.name == rules.EMULSION_REMOVER,
                }
                for s in steps
            ],
            "old": kept if old else None,
            "hardened": _hardened(screen),
            "blemishes": blemish_queries.standing(screen.installation),
        }

    answer = show_step(request, code, RECLAIM, extra)
    if answer.status_code == 302 and request.POST.get("outcome") in _LEAVES_MARKS:
        messages.info(request, "Mark where it lies, so that the next image keeps off it.")
        return redirect("screens:marks", code)
    return answer


def _hardened(screen) -> bool:
    """Whether a chemical that may be there for good is on record of this stencil."""
    in_cycle = screen.installation.events.standing().filter(cycle__closed_at=None, kind="harden")
    return any(facts["how"] == "chemical" for facts in in_cycle.values_list("facts", flat=True))


def _dwell(step, products):
    """The product's own dwell where the shop wrote it down, else the house's."""
    product = products.get(step.name)
    return product.dwell_s if product and product.dwell_s else step.dwell_s


def _products() -> dict[str, dict]:
    """Name and dwell of what stands at the booth, by step, for the record."""
    products = ReclaimProduct.objects.values_list("step", "name", "dwell_s")
    return {step: {"name": name, "dwell_s": dwell} for step, name, dwell in products}


@leads
def products(request):
    """What the shop uses at each step of the reclaim."""
    settings = house_settings.current()
    names = [s.name for s in rules.steps(settings, haze=True) if s.pad]
    form = ProductForm(request.POST or None, steps=names, kept=ReclaimProduct.objects.in_bulk(field_name="step"))
    if request.method == "POST" and form.attempt(lambda cleaned: reclaim_services.store_products(form.products())):
        messages.success(request, "Products kept.")
        return redirect("screens:products")
    return render(request, "screens/reclaim/products.html", {"form": form}, status=422 if form.errors else 200)
