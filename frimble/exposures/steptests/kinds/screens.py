"""One screen for each time: several screens coated alike, each exposed as a whole."""

from django import forms

from frimble.core.exposure.steptest import plan as steptest
from frimble.exposures.steptests.kinds.kind import TestKind
from frimble.exposures.steptests.kinds.shared import series_field


def _fields():
    return {
        "series": series_field(),
        "others": forms.CharField(label="Other screens, coated alike", max_length=200),
    }


def codes(data) -> list[str]:
    """The other screens as typed."""
    return [code.upper() for code in data["others"].replace(",", " ").replace(";", " ").split()]


def _plan(data, settings, lag_s):
    times = steptest.series_times(data["guess_s"], 1 + len(codes(data)), data["series"])
    return steptest.StepTestPlan(data["guess_s"], data["series"], "", times, (), times[0], 0.0)


KIND = TestKind("screens", "one screen for each time", _fields, _plan, start="To the screens", of_several=True)
