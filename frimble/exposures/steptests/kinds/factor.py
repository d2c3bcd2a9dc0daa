"""A factor film: one exposure through columns that pass known shares of the light."""

from django import forms

from frimble.core.exposure.steptest import plan as steptest
from frimble.core.numbers import read_numbers
from frimble.exposures.steptests.kinds.kind import TestKind


def _fields():
    return {"factors": forms.CharField(label="Factors on the film", max_length=200)}


def _plan(data, settings, lag_s):
    # Twice the guess, so that the right column lies in the middle of the film.
    return steptest.plan_one_exposure(2 * data["guess_s"], read_numbers(data["factors"], "factors"), settings, lag_s)


KIND = TestKind("factor", "factor film", _fields, _plan, by_factors=True)
