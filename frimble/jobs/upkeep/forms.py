"""Upkeep, equipment and handover as they are typed."""

from django import forms

from frimble.people.models import Person
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import DayField, RecordField, WholeField


class UpkeepForm(ActForm):
    name = forms.CharField(label="What comes due", max_length=80)
    every_days = WholeField(label="Every, in days", min_value=1, initial=365)
    person = RecordField(
        Person.objects.filter(is_active=True), label="Who sees to it", required=False, empty_label="anybody"
    )
    where = forms.CharField(label="Where", max_length=80, required=False)


class DoneForm(ActForm):
    item = forms.IntegerField(widget=forms.HiddenInput)
    note = forms.CharField(label="Note", max_length=200, required=False)


class EquipmentForm(ActForm):
    name = forms.CharField(label="Machine", max_length=80)
    circuit = forms.CharField(label="Circuit", max_length=40, required=False)
    rating = forms.CharField(label="Rating on its plate", max_length=60, required=False)
    together = forms.CharField(label="What may run beside it, as the electrician said", max_length=200, required=False)


class LoanForm(ActForm):
    what = forms.CharField(label="What is lent", max_length=80)
    to = forms.CharField(label="To whom", max_length=80)
    back_by = DayField(label="Wanted back by", required=False)


class BackForm(ActForm):
    loan = forms.IntegerField(widget=forms.HiddenInput)


class HandoverForm(ActForm):
    words = forms.CharField(
        label="What to watch", max_length=2000, required=False, widget=forms.Textarea(attrs={"rows": 4})
    )
