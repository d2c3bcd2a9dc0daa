"""The simple steps: degrease, dry, strip, reclaim, and those of thermal film and hand stencils."""

from django.http import Http404

from frimble.people.permissions import recorders
from frimble.screens import actions
from frimble.screens.forms import DegreaseForm, ReclaimForm, StepForm
from frimble.screens.stepviews import StepPage, show_step


def _simple(kind, button, act, form=StepForm, lead="", initial=None):
    return StepPage(kind, form, act, button, lead, initial=initial)


STEP_PAGES = {
    page.kind: page
    for page in (
        _simple(
            "degrease", "Record degreased",
            lambda form, screen, person: actions.degrease(
                screen.code, person, dwell_s=form.cleaned_data["dwell_s"], **form.common()),
            DegreaseForm,
            "Wet both sides, degrease up and down, across and circling, dwell, rinse until no foam and then longer. "
            "Hold it against the light: left emulsion or haze spoils the next image.",
            lambda screen, s: {"dwell_s": f"{s['degrease.dwell_s']:g}"},
        ),
        _simple(
            "dry_mesh", "Record mesh dry",
            lambda form, screen, person: actions.record_mesh_dry(screen.code, person, **form.common()),
            lead="Feel both sides with a clean dry hand, rails and corners too, and look against the light.",
        ),
        _simple(
            "image", "Record image burned",
            lambda form, screen, person: actions.burn_image(screen.code, person, **form.common()),
            lead="The thermal head melts the image into the film of the mesh. No coat, light or washout.",
        ),
        _simple(
            "block_out", "Record stencil made",
            lambda form, screen, person: actions.block_out(screen.code, person, **form.common()),
            lead="Drawing fluid and filler, or cut and masked with tape.",
        ),
        _simple(
            "strip", "Record ink stripped",
            lambda form, screen, person: actions.strip(screen.code, person, **form.common()),
            lead="Tape off, ink out, on a wet screen and from both sides, with the pad kept for ink. Rinse close, in "
            "level tracks.",
        ),
        _simple(
            "reclaim", "Record reclaimed",
            lambda form, screen, person: actions.reclaim(
                screen.code, person, rounds=form.cleaned_data["rounds"], minutes=form.cleaned_data["minutes"],
                outcome=form.cleaned_data["outcome"], **form.common()),
            ReclaimForm,
            "Emulsion remover on both sides with its own pad, extra at the edges. Never let it dry: that makes the rest "
            "permanent. Pressure-rinse, look against light before it dries; a green shadow wants another round.",
        ),
        _simple(
            "cut_out", "Record mesh cut out",
            lambda form, screen, person: actions.cut_out(screen.code, person, **form.common()),
            lead="The thermal mesh is thrown away after its job; the frame waits for new mesh.",
        ),
    )
}  # fmt: skip


@recorders
def step(request, code, kind):
    """One of the simple steps: degrease, dry, strip, reclaim and those of thermal film and hand stencils."""
    if kind not in STEP_PAGES:
        raise Http404("There is no such step.")

    def extra(screen, in_force, form):
        key = {"degrease": "degrease.dwell_s", "reclaim": "reclaim.dwell_s"}.get(kind)
        return {"dwell_s": in_force[key] if key else None}

    return show_step(request, code, STEP_PAGES[kind], extra)
