"""A set of separations, many files at once."""

from django import forms

from frimble.core.film.scan.coding import ENCODINGS
from frimble.films.models import FilmProcess
from frimble.screens.models import MeshType
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import NumberField, RecordField


class _ManyFiles(forms.ClearableFileInput):
    allow_multiple_selected = True


class _FilesField(forms.FileField):
    """Every file that was chosen."""

    widget = _ManyFiles

    def clean(self, data, initial=None):
        # Without any file the list is empty, and its lack is to be told.
        given = data or [None]
        return [super(_FilesField, self).clean(file, initial) for file in given]


class SeparationsForm(ActForm):
    files = _FilesField(label="Separations", help_text="PNG, TIFF, JPEG or PDF, each one colour, named by it")
    dpi = NumberField(label="Resolution", unit="dpi", required=False, help_text="The files' own when left empty")
    encoding = forms.ChoiceField(label="Coding", choices=list(ENCODINGS.items()))
    mesh = RecordField(MeshType.objects.filter(thermal=False), label="Mesh", empty_label=None)
    formula = forms.CharField(label="Coat formula", max_length=60, initial="P1 S1")
    process = RecordField(
        FilmProcess.objects.all(), label="Films are made by", required=False, empty_label="not yet known"
    )
