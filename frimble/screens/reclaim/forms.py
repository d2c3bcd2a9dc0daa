"""What is typed at a reclaim, and the products that stand at the booth."""

from django import forms

from frimble.screens.reclaim.services import RECLAIM_OUTCOMES
from frimble.screens.steps.forms import ActForm, StepForm
from frimble.ui.forms.fields import NumberField, WholeField


class ReclaimForm(StepForm):
    old = forms.BooleanField(required=False, widget=forms.HiddenInput)
    rounds = WholeField(label="Rounds of remover", initial=1)
    minutes = NumberField(label="Time at the booth", unit="min", initial=8)
    outcome = forms.ChoiceField(
        label="Against the light, before it dries", choices=list(RECLAIM_OUTCOMES.items()), widget=forms.RadioSelect
    )


class ProductForm(ActForm):
    """A product and its dwell for each step that uses one."""

    def __init__(self, *args, steps, kept, **kwargs):
        super().__init__(*args, **kwargs)
        self.steps = steps
        for number, step in enumerate(steps):
            was = kept.get(step)
            self.fields[f"name_{number}"] = forms.CharField(
                label=step.capitalize(), max_length=60, required=False, initial=was.name if was else ""
            )
            self.fields[f"dwell_{number}"] = NumberField(
                label="Its dwell, empty for the house's", unit="s", required=False, initial=was.dwell_s if was else None
            )

    def products(self) -> list[tuple[str, str, float | None]]:
        """(step, product, its dwell in s) as typed."""
        typed = self.cleaned_data
        return [(step, typed[f"name_{n}"], typed[f"dwell_{n}"]) for n, step in enumerate(self.steps)]
