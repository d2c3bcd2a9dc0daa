"""Forms of the film bench: one for each route to a density."""

from django import forms

from frimble.core.film import densities
from frimble.core.film.scan.coding import ENCODINGS
from frimble.films.models import FilmSystem
from frimble.screens.models import MeshKind
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import NumberField, QuantityField, RecordField

_BAND = {"label": "Band", "choices": list(densities.BANDS.items())}


class DensitometerForm(ActForm):
    band = forms.ChoiceField(**_BAND)
    dmax = NumberField(label="Black")
    dmin = NumberField(label="Clear film")
    simulated = forms.BooleanField(required=False, widget=forms.HiddenInput)


class MeterForm(ActForm):
    band = forms.ChoiceField(**_BAND)
    without_film = NumberField(label="Without film")
    with_clear = NumberField(label="Under clear film")
    with_black = NumberField(label="Under the black")


class HoldOutForm(ActForm):
    gel_time_s = NumberField(label="Gel time through clear film", unit="s")
    work_s = NumberField(label="Working time", unit="s")
    last_clear = NumberField(label="Last multiple that rinsed clear", unit="×")
    first_scummed = NumberField(label="First that did not, empty when all were clear", unit="×", required=False)
    dmin = NumberField(label="Clear film, UV")


class HoldOutPlanForm(ActForm):
    """What a hold-out test is planned from."""

    gel_time_s = NumberField(label="Gel time through clear film", unit="s")
    work_s = NumberField(label="Working time", unit="s")


ROUTE_FORMS = {"densitometer": DensitometerForm, "meter": MeterForm, "hold_out": HoldOutForm}


class SystemForm(ActForm):
    """A way of making films. Costs are in the shop's own money; left empty they are not known."""

    name = forms.CharField(label="System", max_length=60)
    how_made = forms.CharField(label="How made", max_length=200, required=False)
    settings = forms.CharField(
        label="Printer, ink, sheet, driver and settings", max_length=240, required=False,
        help_text="Changing one makes the densities stale",
    )  # fmt: skip
    widest_mm = QuantityField(label="Widest sheet", unit="mm", required=False)
    machine_price = NumberField(label="Price of the machine", required=False)
    life_films = NumberField(label="Films in its life", required=False)
    ink_a_film = NumberField(label="Ink, price a film", required=False)
    sheet_a_film = NumberField(label="Sheet, price a film", required=False)
    spoilage = NumberField(label="Share spoiled, 0 to 1", required=False)


def _mesh_field():
    return RecordField(
        MeshKind.objects.filter(thermal=False),
        label="For mesh",
        required=False,
        empty_label="none chosen: house limits",
    )


class PositiveForm(ActForm):
    """A film as it comes to the bench."""

    name = forms.CharField(label="Film", max_length=80, help_text="What a colleague would call it")
    job_number = forms.CharField(label="Job", max_length=12, required=False)
    separation = forms.CharField(label="Separation", max_length=60, required=False)
    system = RecordField(FilmSystem.objects.all(), label="Made by", required=False, empty_label="not known")
    kept_at = forms.CharField(label="Kept at", max_length=60, required=False)


class ScanForm(ActForm):
    """A scan to be checked. A wedge is written as its first patch's corner, the patch's side and its densities."""

    scan = forms.FileField(label="Scan", help_text="PNG, TIFF, JPEG or PDF, scanned with light through the film")
    dpi = NumberField(label="Resolution", unit="dpi", required=False, help_text="The file's own when left empty")
    encoding = forms.ChoiceField(label="Coding", choices=list(ENCODINGS.items()))
    wedge = forms.CharField(
        label="Wedge", required=False, max_length=300,
        help_text="Densities, such as 0.05/0.35/0.65, to have it found; x,y,patch in mm before them to place it",
    )  # fmt: skip
    mesh = _mesh_field()


class AgainForm(ActForm):
    """A check made again: the wedge placed on the picture, its densities, and the mesh."""

    x_mm = NumberField(label="First patch, left edge", unit="mm", required=False)
    y_mm = NumberField(label="Its upper edge", unit="mm", required=False)
    patch_mm = NumberField(label="Side of a patch", unit="mm", required=False)
    densities = forms.CharField(
        label="Densities, first patch first", required=False, max_length=300, help_text="Such as 0.05/0.35/0.65",
    )  # fmt: skip
    mesh = _mesh_field()

    def clean(self) -> dict:
        """Puts the wedge together as it is written: placed, or its densities alone to have it found."""
        cleaned = super().clean()
        place = [cleaned.get(k) for k in ("x_mm", "y_mm", "patch_mm")]
        densities = cleaned.get("densities", "")
        if any(v is not None for v in place):
            if None in place or not densities:
                raise forms.ValidationError("A placed wedge wants its corner, the side of a patch and its densities.")
            densities = ",".join(f"{v:g}" for v in place) + "," + densities
        return {"wedge": densities, "mesh": cleaned.get("mesh")}


class TouchUpForm(ActForm):
    words = forms.CharField(label="Touched up", max_length=240, help_text="Such as: opaque pen on two pinholes")


class JudgeForm(ActForm):
    finding = forms.IntegerField(widget=forms.HiddenInput)
    accepted = forms.BooleanField(required=False, widget=forms.HiddenInput)
    reason = forms.CharField(label="Why it does not matter", required=False, max_length=200)


class PlacementForm(ActForm):
    """What is to lie on which screen. Lengths may be typed with their unit."""

    screen = forms.CharField(
        label="Screen", required=False, max_length=16, help_text="Its size is taken and its ghosts are looked at",
        widget=forms.TextInput(attrs={"data-scan": "screen", "autocomplete": "off", "autocapitalize": "characters"}),
    )  # fmt: skip
    frame_width = QuantityField(label="Frame width, outside", unit="mm")
    frame_height = QuantityField(label="Frame height, outside", unit="mm")
    arts = forms.CharField(
        label="Images, one a line", widget=forms.Textarea(attrs={"rows": 3}),
        help_text="Such as Pennant 250 x 180; then its exposure if known, 95 s; then tape when not printed now",
    )  # fmt: skip
    coater = QuantityField(label="Coater", unit="mm", required=False)
    squeegee = QuantityField(label="Squeegee", unit="mm", required=False)
    film = QuantityField(label="Widest film", unit="mm", required=False)
    platen_width = QuantityField(label="Platen or goods, width", unit="mm", required=False)
    platen_height = QuantityField(label="Platen or goods, height", unit="mm", required=False)
    travel = QuantityField(label="Longest stroke of the press", unit="mm", required=False)
    transfer = forms.BooleanField(label="Transfer: the print is mirrored", required=False)
