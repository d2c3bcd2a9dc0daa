"""Which film on which mesh, coat and light."""

from django import forms

from frimble.coatings.models import Emulsion
from frimble.exposures.models import Lamp
from frimble.films.models import FilmProcess, ScanCheck
from frimble.screens.models import MeshType
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import NumberField, RecordField, SecondsField
from frimble.ui.input import number_in

_OFFERED = 60
# What a check found is read only of the one that is chosen.
_CHECKED = ScanCheck.objects.filter(state=ScanCheck.State.DONE).select_related("film").defer("result")


class ProofForm(ActForm):
    """Any film that was checked; the newest are offered, and the one that was asked for."""

    scan = RecordField(_CHECKED, label="Film", empty_label=None)
    mesh = RecordField(MeshType.objects.filter(thermal=False), label="Mesh", empty_label=None)
    formula = forms.CharField(label="Coat formula", max_length=60)
    emulsion = RecordField(Emulsion.objects.all(), label="Emulsion", empty_label=None)
    lamp = RecordField(Lamp.objects.exclude(kind=Lamp.SUN), label="Lamp", empty_label=None)
    film_process = RecordField(FilmProcess.objects.all(), label="Film made by", empty_label=None)
    time_s = SecondsField(
        label="Time", required=False, help_text="Left empty: the calibrated time, else the predicted one"
    )

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.offer_scans()

    def offer_scans(self) -> None:
        newest, asked = list(_CHECKED[:_OFFERED]), number_in(str(self["scan"].value() or ""))
        if asked and asked not in {scan.pk for scan in newest}:
            newest += _CHECKED.filter(pk=asked)
        self.fields["scan"].offer(newest)


class PartForm(ProofForm):
    """A part of the film, with what the sliders say."""

    scan = forms.ModelChoiceField(_CHECKED)
    x = forms.FloatField(min_value=-1e4, max_value=1e4)
    y = forms.FloatField(min_value=-1e4, max_value=1e4)
    side = forms.FloatField(min_value=1, max_value=60)
    over = NumberField(label="Over the mesh", unit="µm", required=False)

    def offer_scans(self) -> None:
        """None: its page has them."""
