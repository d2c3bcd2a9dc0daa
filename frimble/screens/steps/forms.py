"""Forms whose service may find fault with what was typed, and those of the simple steps."""

from django import forms

from frimble.screens.ledger import Conflict
from frimble.screens.register.services import ENDINGS
from frimble.screens.steps.services import PRE_COAT_LOOKS
from frimble.ui.forms import act
from frimble.ui.forms.fields import NumberField, SecondsField


class ActForm(act.ActForm):
    """A form whose action may also find that somebody else recorded on the screen meanwhile."""

    def attempt(self, act):
        try:
            return super().attempt(act)
        except Conflict as conflict:
            self.data = self.data.copy()
            self.data[self.add_prefix("revision")] = conflict.revision
            self._say("", str(conflict))
            return None


class StepForm(ActForm):
    """Base of every form that records something on one screen."""

    revision = forms.IntegerField(widget=forms.HiddenInput)
    override_reason = forms.CharField(
        required=False, max_length=300, label="Go on regardless, because", widget=forms.TextInput
    )
    note = forms.CharField(required=False, max_length=400, label="Note")

    def common(self):
        """The arguments that every recorded step takes."""
        return {k: self.cleaned_data[k] for k in ("revision", "override_reason", "note")}


class DegreaseForm(StepForm):
    dwell_s = SecondsField(label="Degreaser dwell")
    look = forms.ChoiceField(
        label="Against the light", choices=list(PRE_COAT_LOOKS.items()), initial="clean", required=False
    )
    rinsed = forms.BooleanField(
        label="Rinsed until no foam, and then longer: left degreaser makes the coat lift", required=False
    )


class ImageForm(StepForm):
    ruling_lpi = NumberField(label="Halftone ruling", unit="lines/in", required=False)
    head_dpi = forms.CharField(
        label="Resolution of the head",
        max_length=20,
        required=False,
        help_text="Such as 600 × 1200 dpi, as its maker says",
    )


class TakeOffForm(StepForm):
    ending = forms.ChoiceField(label="Why", choices=list(ENDINGS.items()), widget=forms.RadioSelect)
