"""Hours as they are typed."""

from django import forms

from frimble.jobs.day.hours.queries import people_at_work
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import DayField, RecordField


class WeekForm(ActForm):
    person = RecordField(people_at_work(), widget=forms.HiddenInput)
    week = forms.CharField(
        label="Usual hours", max_length=120, required=False, widget=forms.TextInput(attrs={"size": 40})
    )


class DayForm(ActForm):
    person = RecordField(people_at_work(), label="Who", empty_label="choose")
    on = DayField(label="Day")
    hours = forms.CharField(label="Hours; nothing is away", max_length=80, required=False)
