"""A job, its time at press, its screens and photographs."""

from django import forms

from frimble.films.models import Film
from frimble.jobs.choosing.meshes import ROLES
from frimble.jobs.models import Job, Photo
from frimble.screens.models import MeshType
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import DayField, HourField, RecordField, WholeField
from frimble.ui.input import number_in

_JOBS_OFFERED = 150


class JobPhotoForm(ActForm):
    picture = forms.FileField(label="Photograph")
    shows = forms.ChoiceField(label="Of the", choices=Photo.Shows.choices)
    words = forms.CharField(label="To remember", required=False, max_length=160)


class JobForm(ActForm):
    """A new job."""

    number = forms.RegexField(
        r"^[A-Za-z0-9][A-Za-z0-9._-]*$",
        label="Number",
        max_length=12,
        error_messages={"invalid": "Letters, digits, dots and dashes, such as J-2061."},
    )
    name = forms.CharField(label="Design", max_length=80)
    what = forms.CharField(label="What is printed", max_length=200, required=False)
    press_on = DayField(label="At press on", required=False)
    press_time = HourField(label="At", required=False)
    like = RecordField(Job.objects.all(), label="Colours as in job", required=False, empty_label="none")

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        given = (number_in(self.initial.get("like")), number_in(self.data.get("like")))
        asked = [number for number in given if number is not None]
        # Thousands would make the page slow; an older one is reached from its own page.
        newest = list(Job.objects.order_by("-pk")[:_JOBS_OFFERED])
        older = Job.objects.filter(pk__in=asked).exclude(pk__in=[job.pk for job in newest]) if asked else []
        self.fields["like"].offer([*newest, *older])


class TimeForm(ActForm):
    """When the press wants a job."""

    press_on = DayField(label="At press on", required=False)
    press_time = HourField(label="At", required=False)


class NeedForm(ActForm):
    """Screens a job wants."""

    colour = forms.CharField(label="Colour", max_length=40, required=False, help_text="In the order of printing")
    mesh = RecordField(
        MeshType.objects.filter(thermal=False), label="Mesh", required=False, empty_label="as the chooser says"
    )
    role = forms.ChoiceField(label="What the plate does", choices=[("", "not said"), *ROLES], required=False)
    formula = forms.CharField(label="Coat formula", max_length=60, initial="P1 S1")
    number = WholeField(label="Screens", min_value=1, max_value=40, initial=1)
    film = RecordField(Film.objects.none(), label="Film", required=False, empty_label="none yet")

    def __init__(self, *args, films, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["film"].offer(films)
