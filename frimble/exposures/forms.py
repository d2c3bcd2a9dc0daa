"""Forms of the lamp, the loupe and the booth."""

from django import forms

from frimble.core.calculators import numbers
from frimble.core.exposure.light import source as light_source
from frimble.core.exposure.steptest import greyscale as grey_scale
from frimble.core.exposure.steptest import plan as steptest
from frimble.core.exposure.steptest.guided import FEATURES, Marks, rank
from frimble.core.exposure.steptest.reading import GRADES, SCHOOLS, StepGrade
from frimble.core.units import show_seconds
from frimble.exposures.models import Lamp, LampRecord, StepPhoto, StepTest
from frimble.films.models import FilmSystem, Positive
from frimble.screens.steps.forms import ActForm, StepForm
from frimble.ui.forms.fields import NumberField, QuantityField, RecordField, SecondsField, WholeField

DRY_TICK = "Dry: no tack, hard and slick to a damp gloved fingertip, no slime"


class LightForm(forms.Form):
    """Which lamp and which film: enough to look a time up."""

    lamp = RecordField(Lamp.objects.all(), label="Lamp", empty_label=None)
    film = RecordField(FilmSystem.objects.all(), label="Film system", empty_label=None)


class SunForm(forms.Form):
    """What has to be known of the sun before it is used."""

    meter = NumberField(label="The light meter shows", unit="mW/cm²", required=False)
    sky = forms.CharField(label="Sky and time of day", required=False, max_length=60)

    def clean(self):
        data = super().clean()
        lamp = data.get("lamp")
        if lamp and lamp.is_sun and not (data.get("meter") and data.get("sky")):
            self.add_error("meter", "Meter the sun and say how the sky is: its light is never twice the same.")
        return data


class ExposeForm(SunForm, StepForm, LightForm):
    positive = RecordField(
        Positive.objects.all(), label="Which film", required=False, empty_label="not on the film bench"
    )
    own_time_s = SecondsField(label="A time of your own", required=False)
    own_reason = forms.CharField(label="Why this time", required=False, max_length=200)
    dry = forms.BooleanField(
        label=DRY_TICK, error_messages={"required": "Feel it first: wet inside looks dry outside."}
    )

    def clean(self):
        data = super().clean()
        if data.get("own_time_s") and not data.get("own_reason"):
            self.add_error("own_reason", "Say why: this time is not calibrated.")
        return data


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

    def plan(self, standards):
        """The core's plan for what was typed."""
        data, lag = self.cleaned_data, self.cleaned_data["lamp"].start_lag_s
        if self.test_kind == "factor":
            # Twice the guess, so that the right column lies in the middle of the film.
            return steptest.plan_one_exposure(2 * data["guess_s"], numbers(data["factors"], "factors"), standards, lag)
        if self.test_kind == "grey":
            return steptest.plan_one_exposure(data["guess_s"], grey_scale.factors(), standards, lag)
        if self.test_kind == "screens":
            times = steptest.series_times(data["guess_s"], 1 + len(self.other_codes()), data["series"])
            return steptest.StepTestPlan(data["guess_s"], data["series"], "", times, (), times[0], 0.0)
        return steptest.plan_moving_card(data["guess_s"], data["steps"], data["series"], standards, data["card"], lag)

    def other_codes(self) -> list[str]:
        return [code.upper() for code in self.cleaned_data["others"].replace(",", " ").replace(";", " ").split()]

    def edges(self, plan, standards):
        """Card edges in mm: of the shop's own film, or of equal strips; none where no card moves."""
        if self.test_kind != "card":
            return ()
        if self.cleaned_data["own_film"]:
            from frimble.core.exposure.target.geometry import design

            return design(len(plan.times_s), 600, standards).card_edges_mm
        return steptest.strip_edges_mm(self.cleaned_data["length_mm"], len(plan.times_s), standards)

    def common(self):
        return {k: self.cleaned_data[k] for k in ("revision", "override_reason")}


class StartTestForm(SunForm, PlanForm):
    dry = forms.BooleanField(
        label=DRY_TICK, error_messages={"required": "Feel it first: wet inside looks dry outside."}
    )


class StripsForm(ActForm):
    """What is asked of every strip of a test, and by what the time is chosen."""

    school = forms.ChoiceField(label="Choose by", choices=list(SCHOOLS.items()), widget=forms.RadioSelect)
    wanted_opening_um = NumberField(label="Finest detail wanted, open and standing", unit="µm")

    def __init__(self, *args, times_s, **kwargs):
        super().__init__(*args, **kwargs)
        self.times_s = times_s
        for strip in range(1, len(times_s) + 1):
            self.fields |= self.asked_of(strip)
            self.fields[f"slimy_{strip}"] = forms.BooleanField(label="Well side slimy", required=False)
            self.fields[f"pale_{strip}"] = forms.BooleanField(label="Colour not changed through", required=False)

    def asked_of(self, strip: int) -> dict[str, forms.Field]:
        raise NotImplementedError


class ReadingForm(StripsForm):
    """A grade for each strip, and what the loupe shows where it was used."""

    def asked_of(self, strip):
        grade = forms.ChoiceField(
            label=f"Grade of strip {strip}", choices=[(g, g) for g in GRADES], widget=forms.RadioSelect,
            error_messages={"required": "Grade this strip."},
        )  # fmt: skip
        return {
            f"grade_{strip}": grade,
            f"opening_{strip}": NumberField(label="Finest opening clear", unit="µm", required=False),
            f"line_{strip}": NumberField(label="Thinnest line standing", unit="µm", required=False),
            f"dot_{strip}": NumberField(label="Smallest highlight dot clear", unit="%", required=False),
        }

    def _say(self, field, message):
        if field.startswith("strip "):
            field = f"grade_{field.removeprefix('strip ')}"
        super()._say(field, message)

    def steps(self):
        data = self.cleaned_data
        seen = ("grade", "opening", "line", "dot", "slimy", "pale")
        return [
            StepGrade(n, time, *(data[f"{name}_{n}"] for name in seen)) for n, time in enumerate(self.times_s, start=1)
        ]

    def strips(self):
        """(strip, time, grade field, the fields of what was seen), shortest time first, as the page lays them out."""
        rows = [
            (n, time, self[f"grade_{n}"], [self[f"{seen}_{n}"] for seen in ("opening", "line", "dot", "slimy", "pale")])
            for n, time in enumerate(self.times_s, start=1)
        ]
        return sorted(rows, key=lambda row: row[1])


class GuidedForm(StripsForm):
    """What is seen of each strip, feature by feature: its grade follows."""

    def asked_of(self, strip):
        return {
            f"{name}_{strip}": forms.ChoiceField(
                label=words, choices=[(mark, f"{mark}: {meaning}") for mark, meaning in known.items()],
                widget=forms.RadioSelect, error_messages={"required": "Say what you see."},
            )
            for name, (words, known) in FEATURES.items()
        }  # fmt: skip

    def marks(self) -> dict[int, dict[str, str]]:
        """By strip, the mark of each feature."""
        data = self.cleaned_data
        return {n: {name: data[f"{name}_{n}"] for name in FEATURES} for n in range(1, len(self.times_s) + 1)}

    def steps(self) -> list[StepGrade]:
        """Every strip with the grade its marks come to."""
        data, found = self.cleaned_data, []
        for n, seen in self.marks().items():
            slimy, pale = data[f"slimy_{n}"], data[f"pale_{n}"]
            grade = rank(Marks(**seen, slimy=slimy, pale=pale)).grade
            found.append(StepGrade(n, self.times_s[n - 1], grade, slimy=slimy, pale=pale))
        return found

    def strips(self):
        """(strip, time, its fields), shortest time first."""
        names = (*FEATURES, "slimy", "pale")
        rows = [(n, time, [self[f"{name}_{n}"] for name in names]) for n, time in enumerate(self.times_s, start=1)]
        return sorted(rows, key=lambda row: row[1])


class GreyScaleForm(ActForm):
    """What a grey scale shows."""

    solid_step = NumberField(label="Highest step that stands solid")
    school = forms.ChoiceField(choices=list(SCHOOLS.items()), widget=forms.HiddenInput)


class PhotoForm(ActForm):
    """A photo of the rinsed test, and what the film on it measured as printed."""

    photo = forms.FileField(
        label="Photo of the rinsed test", help_text="JPEG, PNG or WebP from a phone, from straight above, lit through"
    )
    scale_bar_mm = NumberField(label="The film's scale bar measures", unit="mm", initial="200")
    dpi = WholeField(label="Film printed at, dpi", initial=600)
    wanted_um = NumberField(label="Finest opening wanted", unit="µm")


class PhotoGradesForm(ActForm):
    """The photo's grades, each to be set right by hand."""

    school = forms.ChoiceField(label="Choose by", choices=list(SCHOOLS.items()), widget=forms.RadioSelect)

    def __init__(self, *args, steps, **kwargs):
        super().__init__(*args, **kwargs)
        self.steps = steps
        for step in steps:
            self.fields[f"grade_{step.index}"] = forms.ChoiceField(
                label=f"Grade of step {step.index}", choices=[(g, g) for g in GRADES], initial=step.verdict
            )

    def rows(self):
        """(step, grade field), shortest time first."""
        return sorted(((s, self[f"grade_{s.index}"]) for s in self.steps), key=lambda row: row[0].time_s)

    def changed_grades(self) -> dict[int, str]:
        """Grades that were set otherwise than the photo's."""
        chosen = {s.index: self.cleaned_data[f"grade_{s.index}"] for s in self.steps}
        return {s.index: chosen[s.index] for s in self.steps if chosen[s.index] != s.verdict}


class PairForm(ActForm):
    """Two photographed steps to be seen side by side."""

    a = WholeField(label="Step")
    other = RecordField(StepPhoto.objects.none(), label="Beside it, on", required=False)
    b = WholeField(label="Step there")

    def __init__(self, *args, photo, steps, **kwargs):
        super().__init__(*args, **kwargs)
        others = StepPhoto.objects.exclude(straight="").filter(refused="").exclude(pk=photo.pk)
        self.fields["other"].queryset = others.select_related("step_test")
        self.fields["other"].empty_label = "this photo"
        choices = [(s.index, f"{s.index}, {show_seconds(s.time_s)}") for s in sorted(steps, key=lambda s: s.time_s)]
        self.fields["a"].widget = forms.Select(choices=choices)


class TrialForm(ActForm):
    """Two read tests, and the question that is to be kept with their answer."""

    one = forms.TypedChoiceField(label="This test", empty_value=None)
    other = forms.TypedChoiceField(label="Against", empty_value=None)
    question = forms.CharField(label="What the trial was to tell", max_length=160, required=False)

    def __init__(self, *args, tests, **kwargs):
        super().__init__(*args, **kwargs)
        self.tests = {str(t.pk): t for t in tests}
        words = [(pk, f"{t}, {t.screen.frame.code}: {t.setup_words}") for pk, t in self.tests.items()]
        for name in ("one", "other"):
            self.fields[name].choices = [("", "choose a test"), *words]
            self.fields[name].coerce = self.tests.get


class FilmForm(ActForm):
    """The step-test film to print."""

    steps = WholeField(label="Steps")
    dpi = WholeField(label="Printer, dpi")


class WashForm(StepForm):
    soak_s = SecondsField(label="Soak")
    rinse_s = SecondsField(label="Rinse")


class LampForm(ActForm):
    """A light source."""

    name = forms.CharField(label="Name", max_length=40)
    kind = forms.ChoiceField(label="Kind", choices=Lamp.Kind.choices)
    geometry = forms.ChoiceField(label="Shape", choices=list(light_source.GEOMETRIES.items()))
    contact = forms.ChoiceField(label="Film and screen are pressed by", choices=list(light_source.CONTACTS.items()))
    distance_mm = QuantityField(label="Lamp to glass", unit="mm")
    warm_up_s = SecondsField(label="Warm-up", initial="0")
    start_lag_s = SecondsField(label="Start-up lag", initial="0")
    units_a_second = NumberField(label="Its integrator counts, a second", unit="light units", required=False)


READ_AS = {"meter": "readings of a light meter", "steps": "highest solid steps of nine grey scales, exposed at once"}


class LampRecordForm(ActForm):
    """Something read off or done to a lamp."""

    kind = forms.ChoiceField(choices=LampRecord.Kind.choices, widget=forms.HiddenInput)
    hours = NumberField(label="Hours", unit="h", required=False)
    light_mw_cm2 = NumberField(label="Light in the middle of the glass", unit="mW/cm²", required=False)
    field = forms.CharField(
        label="Nine readings, row by row",
        required=False,
        widget=forms.Textarea(attrs={"rows": 3}),
        help_text="Three rows of three, parted by spaces, as the places lie on the glass",
    )
    read_as = forms.ChoiceField(label="They are", choices=list(READ_AS.items()), required=False)
    note = forms.CharField(label="Note", required=False, max_length=200)
    simulated = forms.BooleanField(required=False, widget=forms.HiddenInput)

    def given(self) -> dict:
        data = dict(self.cleaned_data)
        rows = [numbers(line, "field") for line in data["field"].splitlines() if line.strip()]
        if rows and data.pop("read_as") == "steps":
            rows = light_source.light_of_steps(rows)
        data.pop("read_as", None)
        return data | {"field": rows or None}


class InspectForm(StepForm):
    verdict = forms.ChoiceField(
        label="Against the light",
        choices=[("pass", "passes: every image area is open, edges whole"), ("fail", "fails: reclaim and remake")],
        widget=forms.RadioSelect,
    )
    pinholes = WholeField(
        label="Pinholes blocked", initial=0, error_messages={"invalid": "A whole number of pinholes."}
    )
    strip_step = NumberField(
        label="Control strip: highest solid step",
        required=False,
        help_text="Of the small grey scale, where one was on it",
    )
