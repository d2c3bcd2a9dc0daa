"""A job's screens and photographs."""

from django import forms

from frimble.jobs.models import Photo
from frimble.screens.models import MeshType
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import RecordField, WholeField


class JobPhotoForm(ActForm):
    picture = forms.FileField(label="Photograph")
    shows = forms.ChoiceField(label="Of the", choices=Photo.Shows.choices)
    words = forms.CharField(label="To remember", required=False, max_length=160)


class NeedForm(ActForm):
    """Screens a job wants."""

    mesh = RecordField(MeshType.objects.filter(thermal=False), label="Mesh", empty_label=None)
    formula = forms.CharField(label="Coat formula", max_length=60, initial="P1 S1")
    number = WholeField(label="Screens", min_value=1, max_value=40, initial=1)
