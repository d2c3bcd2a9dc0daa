"""Planning a step test of any kind."""

from django import forms

from frimble.exposures.production.forms import DRY_TICK, LightForm, SunForm
from frimble.exposures.steptests.kinds import KINDS, USUAL, choices
from frimble.screens.steps.forms import StepForm
from frimble.ui.forms.fields import SecondsField


class PlanForm(StepForm, LightForm):
    """A step test of one kind: guess, lamp and film, and what that kind asks for."""

    note = None
    kind = forms.ChoiceField(choices=choices, widget=forms.HiddenInput)
    guess_s = SecondsField(label="Your guess")
    revision = forms.IntegerField(widget=forms.HiddenInput, required=False)

    def __init__(self, *args, kind=USUAL.key, **kwargs):
        super().__init__(*args, **kwargs)
        self.test_kind = KINDS.get(kind, USUAL)
        self.initial["kind"] = self.test_kind.key
        self.of_kind = self.test_kind.fields()
        self.fields |= self.of_kind

    def asked(self):
        """What the kind asks for, in its order, ticks left out."""
        return [self[name] for name, field in self.of_kind.items() if not isinstance(field, forms.BooleanField)]

    def ticks(self):
        """What the kind has ticked, in its order."""
        return [self[name] for name, field in self.of_kind.items() if isinstance(field, forms.BooleanField)]

    def plan(self, settings):
        """The core's plan for what was typed."""
        return self.test_kind.plan(self.cleaned_data, settings, self.cleaned_data["lamp"].start_lag_s)

    def edges(self, plan, settings):
        """Card edges in mm; none where no card moves."""
        return self.test_kind.edges(self.cleaned_data, plan, settings)

    def sent_on(self):
        """What the plan rests on, sent with the start as it was typed: (name, value) of each."""
        names = ["kind", "guess_s", "lamp", "film_process", *self.of_kind]
        values = [(name, self.test_kind.key if name == "kind" else self[name].value()) for name in names]
        return [(name, "on" if value is True else value) for name, value in values if value not in (None, False)]

    def common(self):
        return {k: self.cleaned_data[k] for k in ("revision", "override_reason")}


class StartTestForm(SunForm, PlanForm):
    dry = forms.BooleanField(
        label=DRY_TICK, error_messages={"required": "Feel it first: wet inside looks dry outside."}
    )
