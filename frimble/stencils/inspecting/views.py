"""Inspecting a finished stencil against the light."""

from dataclasses import replace

from frimble.coatings.coats.queries import current_coat
from frimble.core.stencil.finishing import FINISH
from frimble.core.verdicts import Inspection
from frimble.people.permissions import recorders
from frimble.screens.steps.pages import StepPage, get_screen, show_step
from frimble.stencils.inspecting import services as inspect_services
from frimble.stencils.inspecting.forms import InspectForm
from frimble.stencils.models import Washout

INSPECT = StepPage(
    "inspect",
    InspectForm,
    lambda form, screen, person: inspect_services.inspect(
        screen.code,
        person,
        verdict=form.cleaned_data["verdict"],
        pinholes=form.cleaned_data["pinholes"],
        strip_step=form.cleaned_data.get("strip_step"),
        **form.common(),
    ),
    "Record inspection",
    template="stencils/inspecting/inspect.html",
    lead="Hold it against the light. Block pinholes with filler, tape the margin and the frame's inner corner.",
)


def _emulsion_on(screen):
    """The emulsion on the mesh, whose colour tells before and after light; None on a stencil without a coat."""
    coat = current_coat(screen)
    return coat.batch.emulsion if coat else None


def _washed(screen) -> Washout | None:
    """How the stencil on this screen was washed out."""
    washes = Washout.objects.filter(event__cycle__installation=screen.installation_id, event__cycle__closed_at=None)
    return washes.order_by("-pk").first()


@recorders
def inspect(request, code):
    thermal = get_screen(code).mesh.thermal

    def extra(screen, settings, form):
        more = {} if thermal else {"emulsion": _emulsion_on(screen), "washed": _washed(screen)}
        return {"finish": FINISH} | more

    failed = request.POST.get("verdict") == Inspection.FAILS and not thermal
    # A stencil that failed is asked why, while it is at hand.
    page = replace(INSPECT, done="stencils:diagnosis") if failed else INSPECT
    return show_step(request, code, page, extra, {"thermal": thermal})
