"""The booth: washing out and inspecting."""

from frimble.exposures import actions
from frimble.exposures.forms import InspectForm, WashForm
from frimble.people.permissions import recorders
from frimble.screens.stepviews import StepPage, show_step

WASH = StepPage(
    "wash", WashForm,
    lambda form, screen, person: actions.wash(
        screen.code, person, soak_s=form.cleaned_data["soak_s"], rinse_s=form.cleaned_data["rinse_s"], **form.common()),
    "Record washed out",
    "Wet both sides, squeegee side lightly first; soak; then rinse evenly from the print side, cold or lukewarm, at one "
    "distance. Stop when every image area passes light. Dark stencil bubbling means stop: too far.",
    initial=lambda screen, s: {"soak_s": f"{s['wash.soak_s']:g}"},
)  # fmt: skip


INSPECT = StepPage(
    "inspect", InspectForm,
    lambda form, screen, person: actions.inspect(
        screen.code, person, verdict=form.cleaned_data["verdict"], pinholes=form.cleaned_data["pinholes"],
        **form.common()),
    "Record inspection",
    "Hold it against the light. Block pinholes with filler, tape the margin and the frame's inner corner.",
)  # fmt: skip


@recorders
def wash(request, code):
    return show_step(request, code, WASH, lambda screen, s, form: {"dwell_s": s["wash.soak_s"]})


@recorders
def inspect(request, code):
    return show_step(request, code, INSPECT)
