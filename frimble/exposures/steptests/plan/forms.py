"""Planning a step test of any of the four kinds."""

from django import forms

from frimble.core.exposure.steptest import greyscale as grey_scale
from frimble.core.exposure.steptest import plan as steptest
from frimble.core.numbers import read_numbers
from frimble.exposures.models import StepTest
from frimble.exposures.production.forms import DRY_TICK, LightForm, SunForm
from frimble.screens.steps.forms import StepForm
from frimble.ui.forms.fields import QuantityField, SecondsField, WholeField


class PlanForm(StepForm, LightForm):
    """A step test of one kind; only the fields of that kind stay."""

    note = None
    kind = forms.ChoiceField(choices=StepTest.Kind.choices, widget=forms.HiddenInput)
    guess_s = SecondsField(label="Your guess")
    steps = WholeField(label="Steps", error_messages={"invalid": "A whole number of steps."})
    series = forms.ChoiceField(label="Series", choices=list(steptest.SERIES_WORDS.items()))
    card = forms.ChoiceField(label="Card", choices=[("cover", "covers strips"), ("uncover", "uncovers strips")])
    length_mm = QuantityField(label="Length of the test", unit="mm")
    own_film = forms.BooleanField(label="The shop's step-test film lies on it", required=False)
    factors = forms.CharField(label="Factors on the film", max_length=200)
    others = forms.CharField(label="Other screens, coated alike", max_length=200)
    revision = forms.IntegerField(widget=forms.HiddenInput, required=False)

    FIELDS_OF = {
        "card": {"steps", "series", "card", "length_mm", "own_film"}, "factor": {"factors"}, "grey": set(),
        "screens": {"series", "others"},
    }  # fmt: skip

    def __init__(self, *args, kind="card", **kwargs):
        super().__init__(*args, **kwargs)
        self.test_kind = kind if kind in self.FIELDS_OF else "card"
        self.initial["kind"] = self.test_kind
        for name in set().union(*self.FIELDS_OF.values()) - self.FIELDS_OF[self.test_kind]:
            del self.fields[name]

    def plan(self, settings):
        """The core's plan for what was typed."""
        data, lag = self.cleaned_data, self.cleaned_data["lamp"].start_lag_s
        if self.test_kind == "factor":
            # Twice the guess, so that the right column lies in the middle of the film.
            return steptest.plan_one_exposure(
                2 * data["guess_s"], read_numbers(data["factors"], "factors"), settings, lag
            )
        if self.test_kind == "grey":
            return steptest.plan_one_exposure(data["guess_s"], grey_scale.factors(), settings, lag)
        if self.test_kind == "screens":
            times = steptest.series_times(data["guess_s"], 1 + len(self.other_codes()), data["series"])
            return steptest.StepTestPlan(data["guess_s"], data["series"], "", times, (), times[0], 0.0)
        return steptest.plan_moving_card(data["guess_s"], data["steps"], data["series"], settings, data["card"], lag)

    def other_codes(self) -> list[str]:
        return [code.upper() for code in self.cleaned_data["others"].replace(",", " ").replace(";", " ").split()]

    def edges(self, plan, settings):
        """Card edges in mm: of the shop's own film, or of equal strips; none where no card moves."""
        if self.test_kind != "card":
            return ()
        if self.cleaned_data["own_film"]:
            from frimble.core.exposure.target.geometry import design

            return design(len(plan.times_s), 600, settings).card_edges_mm
        return steptest.strip_edges_mm(self.cleaned_data["length_mm"], len(plan.times_s), settings)

    def common(self):
        return {k: self.cleaned_data[k] for k in ("revision", "override_reason")}


class StartTestForm(SunForm, PlanForm):
    dry = forms.BooleanField(
        label=DRY_TICK, error_messages={"required": "Feel it first: wet inside looks dry outside."}
    )
