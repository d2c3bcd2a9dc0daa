"""A factor film: one exposure through columns that pass known shares of the light."""

from django import forms

from frimble.core.conclusions import InvalidInput
from frimble.core.exposure.steptest import plan as steptest
from frimble.core.numbers import read_numbers
from frimble.exposures.steptests.kinds.kind import TestKind
from frimble.ui.forms.fields import RecordField


def _fields():
    # The films are a model of this place, whose tests know their kinds: it is looked up when a form is made.
    from frimble.exposures.steptests.factorfilms.models import FactorFilm

    return {
        "factor_film": RecordField(
            FactorFilm.objects.all(), label="Film", required=False, empty_label="as typed beside"
        ),
        "factors": forms.CharField(label="Factors on the film", max_length=200, required=False),
    }


def _plan(data, settings, lag_s):
    film = data.get("factor_film")
    if not (film or data["factors"]):
        raise InvalidInput("Choose a film, or type the factors that are printed on it.", "factors")
    factors = film.factors if film else read_numbers(data["factors"], "factors")
    # Twice the guess, so that the right column lies in the middle of the film.
    return steptest.plan_one_exposure(2 * data["guess_s"], factors, settings, lag_s)


KIND = TestKind("factor", "factor film", _fields, _plan, by_factors=True)
