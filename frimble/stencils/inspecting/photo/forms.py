"""A photo of a stencil with its film, and what was done about a finding."""

from django import forms

from frimble.films.models import ScanCheck
from frimble.ui.forms.act import ActForm
from frimble.ui.forms.fields import NumberField, RecordField


class _FilmField(RecordField):
    def label_from_instance(self, check):
        return str(check.film)


class StencilPhotoForm(ActForm):
    photo = forms.FileField(
        label="Photo of the dry stencil against light",
        help_text="Held flat before an even light, the whole image in view, the room's lamps off.",
    )
    scan = _FilmField(ScanCheck.objects.none(), label="Film it was made from", empty_label="Choose its film")
    want_mm = NumberField(label="Judge detail from", unit="mm")
    pinhole_mm = NumberField(label="Pinholes from", unit="mm")

    def __init__(self, *args, scans=(), **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["scan"].queryset = ScanCheck.objects.filter(pk__in=[s.pk for s in scans]).select_related("film")
        self.fields["scan"].offer(scans)


class DecisionForm(ActForm):
    finding = forms.IntegerField(widget=forms.HiddenInput)
    what = forms.CharField(max_length=6)
    reason = forms.CharField(label="Why, or a note", max_length=200, required=False)
