"""What more than one kind asks for."""

from django import forms

from frimble.core.exposure.steptest import plan as steptest


def series_field() -> forms.ChoiceField:
    """How the times of the steps follow each other."""
    return forms.ChoiceField(label="Series", choices=list(steptest.SERIES_WORDS.items()))
