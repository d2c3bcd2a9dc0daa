"""A moving card: one screen in strips, the card covers or uncovers one after the other."""

from django import forms

from frimble.core.exposure.steptest import plan as steptest
from frimble.exposures.steptests.kinds.kind import TestKind
from frimble.exposures.steptests.kinds.shared import series_field
from frimble.ui.forms.fields import QuantityField, WholeField


def _fields():
    return {
        "steps": WholeField(label="Steps", error_messages={"invalid": "A whole number of steps."}),
        "series": series_field(),
        "card": forms.ChoiceField(label="Card", choices=[("cover", "covers strips"), ("uncover", "uncovers strips")]),
        "length_mm": QuantityField(label="Length of the test", unit="mm"),
        "own_film": forms.BooleanField(label="The shop's step-test film lies on it", required=False),
    }


def _plan(data, settings, lag_s):
    return steptest.plan_moving_card(data["guess_s"], data["steps"], data["series"], settings, data["card"], lag_s)


def _edges(data, plan, settings):
    """Of the shop's own film, or of equal strips."""
    if data["own_film"]:
        # The drawing libraries load with the first film.
        from frimble.core.exposure.target.geometry import design

        return design(len(plan.times_s), 600, settings).card_edges_mm
    return steptest.strip_edges_mm(data["length_mm"], len(plan.times_s), settings)


KIND = TestKind("card", "moving card", _fields, _plan, _edges, suggests=True)
