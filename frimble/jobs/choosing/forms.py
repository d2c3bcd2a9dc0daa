"""Which screen, and why."""

from django import forms

from frimble.jobs.models import ScreenNeed
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import RecordField


class HoldForm(ActForm):
    code = forms.CharField(max_length=16, widget=forms.HiddenInput)
    because = forms.CharField(label="Taken all the same, or swapped, because", required=False, max_length=240)


class HoldAllForm(ActForm):
    """The screens of an assignment as they were shown, `number of the need:code` each."""

    pairs = forms.CharField(max_length=4000, widget=forms.HiddenInput)

    def clean(self):
        parts = [text.partition(":") for text in self.cleaned_data.get("pairs", "").split()]
        if not parts or not all(number.isdigit() and code for number, _, code in parts):
            raise forms.ValidationError("That is no choice of screens. Look again.")
        return {"pairs": [(int(number), code) for number, _, code in parts]}


class LetGoForm(ActForm):
    because = forms.CharField(label="Let go because", max_length=240)


class GangForm(ActForm):
    """On whose screen a colour goes."""

    leader = RecordField(ScreenNeed.objects.none(), label="On the screen of", empty_label=None)

    def __init__(self, *args, others, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["leader"].queryset = others
        self.fields["leader"].label_from_instance = lambda need: need.key
