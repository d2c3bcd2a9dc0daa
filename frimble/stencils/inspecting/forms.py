"""Inspecting a finished stencil."""

from django import forms

from frimble.core.verdicts import Inspection
from frimble.screens.steps.forms import StepForm
from frimble.ui.forms.fields import NumberField, WholeField


class InspectForm(StepForm):
    verdict = forms.ChoiceField(
        label="Against the light",
        choices=[
            (Inspection.PASSES, "passes: every image area is open, edges whole"),
            (Inspection.FAILS, "fails: reclaim and remake"),
        ],
        widget=forms.RadioSelect,
    )
    pinholes = WholeField(
        label="Pinholes blocked", initial=0, error_messages={"invalid": "A whole number of pinholes."}
    )
    strip_step = NumberField(
        label="Control strip: highest solid step",
        required=False,
        help_text="Of the small grey scale, where one was on it",
    )

    def __init__(self, *args, thermal=False, **kwargs):
        super().__init__(*args, **kwargs)
        if thermal:
            # No light was given: there is no strip to read and nothing to reclaim.
            del self.fields["strip_step"]
            self.fields["verdict"].choices = [
                (Inspection.PASSES, "passes: every image area is burned through, edges whole"),
                (Inspection.FAILS, "fails: cut it out and burn another"),
            ]
