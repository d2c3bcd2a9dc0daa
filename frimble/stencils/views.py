"""The booth: washing out and inspecting."""

from dataclasses import replace

from frimble.coatings.coats.queries import current_coat
from frimble.core.verdicts import Inspection
from frimble.exposures.steptests import wash as wash_protocol
from frimble.people.permissions import recorders
from frimble.screens.steps.pages import StepPage, get_screen, show_step
from frimble.stencils import services as stencil_services
from frimble.stencils.forms import InspectForm, WashForm

WASH = StepPage(
    "wash",
    WashForm,
    lambda form, screen, person: stencil_services.wash(
        screen.code, person, soak_s=form.cleaned_data["soak_s"], rinse_s=form.cleaned_data["rinse_s"], **form.common()
    ),
    "Record washed out",
    "Wet both sides, squeegee side lightly first; soak; then rinse evenly from the print side, cold or lukewarm, at one "
    "distance. Stop when every image area passes light. Dark stencil bubbling means stop: too far.",
    initial=lambda screen, s: _planned_wash(screen) or {"soak_s": f"{s['wash.soak_s']:g}"},
)


INSPECT = StepPage(
    "inspect",
    InspectForm,
    lambda form, screen, person: stencil_services.inspect(
        screen.code,
        person,
        verdict=form.cleaned_data["verdict"],
        pinholes=form.cleaned_data["pinholes"],
        strip_step=form.cleaned_data.get("strip_step"),
        **form.common(),
    ),
    "Record inspection",
    "Hold it against the light. Block pinholes with filler, tape the margin and the frame's inner corner.",
)


def _planned_wash(screen) -> dict:
    """Soak and rinse that a step test on this screen is to have; none without one."""
    test = wash_protocol.waiting_test(screen)
    if test is None or test.soak_s is None:
        return {}
    return {"soak_s": f"{test.soak_s:g}", "rinse_s": f"{test.rinse_s:g}"}


def _emulsion_on(screen):
    """The emulsion on the mesh, whose colour tells before and after light; None on a stencil without a coat."""
    coat = current_coat(screen)
    return coat.batch.emulsion if coat else None


@recorders
def wash(request, code):
    def extra(screen, settings, form):
        return {"dwell_s": settings["wash.soak_s"], "dwell_word": "soak", "emulsion": _emulsion_on(screen)}

    return show_step(request, code, WASH, extra)


@recorders
def inspect(request, code):
    thermal = get_screen(code).mesh.thermal
    extra = lambda screen, s, form: {"emulsion": None if thermal else _emulsion_on(screen)}  # noqa: E731
    failed = request.POST.get("verdict") == Inspection.FAILS and not thermal
    # A stencil that failed is asked why, while it is at hand.
    page = replace(INSPECT, done="stencils:diagnosis") if failed else INSPECT
    return show_step(request, code, page, extra, {"thermal": thermal})
