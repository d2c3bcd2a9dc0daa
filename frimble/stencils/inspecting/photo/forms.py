"""A photo of a stencil with its film, and what was done about a finding."""

from django import forms

from frimble.core.stencil.inspection.kinds import KINDS
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


class ByEyeForm(ActForm):
    scan = _FilmField(ScanCheck.objects.none(), label="Film it was made from", empty_label="Choose its film")

    def __init__(self, *args, scans=(), **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["scan"].queryset = ScanCheck.objects.filter(pk__in=[s.pk for s in scans]).select_related("film")
        self.fields["scan"].offer(scans)


class TapForm(ActForm):
    """A fault seen by eye, tapped on the drawing or typed."""

    kind = forms.ChoiceField(label="What", choices=[(k.value, card.label) for k, card in KINDS.items()])
    x_mm = NumberField(label="From the left", unit="mm")
    y_mm = NumberField(label="From the top", unit="mm")
    size_mm = NumberField(label="Across", unit="mm", initial=1)


class DecisionForm(ActForm):
    finding = forms.IntegerField(widget=forms.HiddenInput)
    what = forms.CharField(max_length=6)
    reason = forms.CharField(label="Why, or a note", max_length=200, required=False)
