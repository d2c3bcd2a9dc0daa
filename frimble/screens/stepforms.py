"""What is typed at a step: degreasing, reclaim, marks on a mesh, taking off, taking back, keeping."""

from django import forms

from frimble.core.conclusions import require_between
from frimble.core.mesh.blemishes import BLEMISHES
from frimble.screens.actions import PRE_COAT_LOOKS, RECLAIM_OUTCOMES
from frimble.screens.forms import ActForm, NumberField, StepForm, WholeField
from frimble.screens.meshings import ENDINGS
from frimble.screens.models import ReclaimProduct


class DegreaseForm(StepForm):
    dwell_s = NumberField(label="Degreaser dwell", unit="s")
    look = forms.ChoiceField(
        label="Against the light", choices=list(PRE_COAT_LOOKS.items()), initial="clean", required=False
    )
    rinsed = forms.BooleanField(
        label="Rinsed until no foam, and then longer: left degreaser makes the coat lift", required=False
    )


class ReclaimForm(StepForm):
    old = forms.BooleanField(required=False, widget=forms.HiddenInput)
    rounds = WholeField(label="Rounds of remover", initial=1)
    minutes = NumberField(label="Time at the booth", unit="min", initial=8)
    outcome = forms.ChoiceField(
        label="Against the light, before it dries", choices=list(RECLAIM_OUTCOMES.items()), widget=forms.RadioSelect
    )


class TakeOffForm(StepForm):
    ending = forms.ChoiceField(label="Why", choices=list(ENDINGS.items()), widget=forms.RadioSelect)


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

    def store(self) -> bool:
        """Write what was typed; an emptied name takes its product away."""
        for number, step in enumerate(self.steps):
            name, dwell = self.cleaned_data[f"name_{number}"], self.cleaned_data[f"dwell_{number}"]
            if dwell is not None:
                require_between(dwell, 1, 3600, "A dwell, in s,", f"dwell_{number}")
            if name:
                ReclaimProduct.objects.update_or_create(step=step, defaults={"name": name, "dwell_s": dwell})
            else:
                ReclaimProduct.objects.filter(step=step).delete()
        return True


class BlemishForm(ActForm):
    """Where something lies on the mesh, tapped on the drawing or typed."""

    kind = forms.ChoiceField(label="What", choices=list(BLEMISHES.items()))
    x_mm = NumberField(label="From the left", unit="mm")
    y_mm = NumberField(label="From the top", unit="mm")
    width_mm = NumberField(label="Wide", unit="mm")
    height_mm = NumberField(label="High", unit="mm")
    photo = forms.FileField(label="Photograph", required=False)


class KeepForm(ActForm):
    """What keeping a finished stencil is weighed by."""

    chance = NumberField(label="Chance that it is asked for again", unit="%")
    days = NumberField(label="In about", unit="days")
    minutes = NumberField(label="Remaking it takes", unit="min")
    goods = NumberField(label="Film, emulsion and other goods, in money")


class TakeBackForm(StepForm):
    reason = forms.CharField(label="What was wrong with it", max_length=400)
