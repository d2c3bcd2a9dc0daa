"""Four taps from the press, and more for who wants to say it."""

from django import forms

from frimble.core.press.cure import INKS
from frimble.core.press.feedback import INK_FAULTS, QUESTIONS
from frimble.ui.forms.act import ActForm
from frimble.ui.forms.fields import NumberField, SecondsField, WholeField


def _tap(name: str) -> forms.ChoiceField:
    question, answers = QUESTIONS[name]
    return forms.ChoiceField(
        label=question, choices=[(str(k), w) for k, w in answers.items()], required=False, widget=forms.RadioSelect
    )


class FeedbackForm(ActForm):
    opacity, sharpness, fit, hold = (_tap(name) for name in ("opacity", "sharpness", "fit", "hold"))
    impressions = WholeField(label="Impressions so far", required=False)
    passes = WholeField(label="Passes", required=False)
    flashes = WholeField(label="Flashes", required=False)
    ink_fault = forms.ChoiceField(
        label="Fault of the ink", choices=[(str(k), w) for k, w in INK_FAULTS.items()], required=False
    )
    ink = forms.ChoiceField(label="Ink", choices=[("", "not said"), *INKS.items()], required=False)
    squeegee = forms.CharField(label="Squeegee and its angle", max_length=60, required=False)
    off_contact_mm = NumberField(label="Off-contact", unit="mm", required=False)
    ink_c = NumberField(label="Ink's surface in the dryer", unit="°C", required=False)
    ink_s = SecondsField(label="Held there", required=False)
    blend = forms.BooleanField(label="On a blend", required=False)
    photo = forms.FileField(label="Photograph of the print", required=False)
    note = forms.CharField(label="Note", max_length=300, required=False)

    @property
    def taps(self):
        return [self[name] for name in ("opacity", "sharpness", "fit", "hold")]

    @property
    def more(self):
        """What is asked of who wants to say more, without the photograph."""
        return [f for f in self if f.name not in (*QUESTIONS, "impressions", "photo")]
