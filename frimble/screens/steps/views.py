"""The simple steps: degrease, dry, strip, those of thermal film and hand stencils, and of a mesh's end."""

from django.http import Http404

from frimble.people.permissions import recorders
from frimble.screens.register import services as register_services
from frimble.screens.steps import services as step_services
from frimble.screens.steps.forms import DegreaseForm, ImageForm, StepForm, TakeOffForm
from frimble.screens.steps.pages import StepPage, show_step


def _simple(kind, button, act, form=StepForm, lead="", initial=None, done="screens:passport"):
    return StepPage(kind, form, act, button, lead, initial=initial, done=done)


STEP_PAGES = {
    page.kind: page
    for page in (
        _simple(
            "degrease", "Record degreased",
            lambda form, screen, person: step_services.degrease(
                screen.code, person, dwell_s=form.cleaned_data["dwell_s"], rinsed=form.cleaned_data["rinsed"],
                look=form.cleaned_data["look"] or "clean", **form.common()),
            DegreaseForm,
            "Wet both sides, degrease up and down, across and circling, dwell, rinse until no foam and then longer. "
            "Hold it against the light: left emulsion or haze spoils the next image.",
            lambda screen, s: {"dwell_s": f"{s['degrease.dwell_s']:g}"},
        ),
        _simple(
            "dry_mesh", "Record mesh dry",
            lambda form, screen, person: step_services.record_mesh_dry(screen.code, person, **form.common()),
            lead="Feel both sides with a clean dry hand, rails and corners too, and look against the light.",
        ),
        _simple(
            "image", "Record image burned",
            lambda form, screen, person: step_services.burn_image(
                screen.code, person, ruling_lpi=form.cleaned_data["ruling_lpi"],
                head_dpi=form.cleaned_data["head_dpi"], **form.common()),
            ImageForm,
            "The thermal head melts the image into the film of the mesh. No coat, light or washout.",
        ),
        _simple(
            "block_out", "Record stencil made",
            lambda form, screen, person: step_services.block_out(screen.code, person, **form.common()),
            lead="Drawing fluid and filler, or cut and masked with tape.",
        ),
        _simple(
            "strip", "Record that the ink is out",
            lambda form, screen, person: step_services.strip(screen.code, person, **form.common()),
            lead="Tape off, ink out, on a wet screen and from both sides, with the pad kept for ink. Rinse close, in "
            "level tracks.",
        ),
        _simple(
            "take_off", "Record mesh taken off",
            lambda form, screen, person: register_services.take_off(
                screen.code, person, ending=form.cleaned_data["ending"], **form.common()),
            TakeOffForm,
            "This ends the mesh's life; its records stay. The frame then waits for new mesh. Mind the edge: cut mesh "
            "springs, and staples and frame corners cut.",
        ),
        _simple(
            "send_away", "Record sent out",
            lambda form, screen, person: register_services.send_away(screen.code, person, **form.common()),
            lead="The empty frame goes out to be stretched. Mount the new mesh here when it is back.",
        ),
        _simple(
            "cut_out", "Record mesh cut out",
            lambda form, screen, person: step_services.cut_out(screen.code, person, **form.common()),
            lead="The thermal mesh is thrown away after its job. The new mesh is mounted next.",
            done="screens:mount",
        ),
    )
}  # fmt: skip


@recorders
def step(request, code, kind):
    """Show or do one of them."""
    if kind not in STEP_PAGES:
        raise Http404("There is no such step.")

    def extra(screen, settings, form):
        return {"dwell_s": settings["degrease.dwell_s"] if kind == "degrease" else None}

    return show_step(request, code, STEP_PAGES[kind], extra)
