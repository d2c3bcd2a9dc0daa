"""Tension readings at five places or nine."""

from django import forms

from frimble.core.conclusions import InvalidInput
from frimble.core.tension.measurement import DIRECTIONS, FIVE_PLACES, NINE_PLACES, STAGES, TensionReading, check_reading
from frimble.screens.steps.forms import StepForm
from frimble.ui.forms.fields import NumberField


class TensionForm(StepForm):
    """Two presses in warp and weft at each of five places or nine; the second press, and whole places, may be left out."""

    PRESSES = (1, 2)
    simulated = forms.BooleanField(required=False, widget=forms.HiddenInput)
    sure = forms.BooleanField(required=False, label="It is right: I measured again")
    stage = forms.ChoiceField(
        required=False, label="After stretching", choices=[("", "ordinary measurement"), *STAGES.items()]
    )

    def __init__(self, *args, settings, nine=False, **kwargs):
        super().__init__(*args, **kwargs)
        self.house_settings = settings
        self.nine = nine
        for place in self._places:
            for direction in DIRECTIONS:
                for press in self.PRESSES:
                    label = f"{place}, {direction}, {'first' if press == 1 else 'second'} reading"
                    self.fields[self.name(place, direction, press)] = NumberField(
                        label=label, unit="N/cm", required=False
                    )

    @property
    def _places(self):
        return NINE_PLACES if self.nine else FIVE_PLACES

    @staticmethod
    def name(place, direction, press):
        return f"{place.replace(' ', '_')}_{direction}_{press}"

    def clean(self):
        cleaned = super().clean()
        for name in list(cleaned):
            if name.rsplit("_", 1)[-1] in ("1", "2") and cleaned[name] is not None:
                try:
                    check_reading(cleaned[name], self.house_settings)
                except InvalidInput as error:
                    self.add_error(name, str(error))
        self._complete(cleaned)
        return cleaned

    def _complete(self, cleaned):
        """At least one place, each measured in both directions."""
        measured = [
            [d for d in DIRECTIONS if any(cleaned.get(self.name(place, d, p)) is not None for p in self.PRESSES)]
            for place in self._places
        ]
        if not any(measured) and not self.errors:
            self.add_error(self.name(self._places[0], DIRECTIONS[0], 1), "Measure one place at least.")
        for place, directions in zip(self._places, measured, strict=True):
            for missing in set(DIRECTIONS) - set(directions) if directions else ():
                if self.name(place, missing, 1) not in self.errors:
                    self.add_error(self.name(place, missing, 1), f"Measure {missing} here too, or leave the place out.")

    def places(self):
        """(place, [(direction, [bound fields])]) for the page, in the order of the plate."""
        return [
            (place, [(d, [self[self.name(place, d, p)] for p in self.PRESSES]) for d in DIRECTIONS])
            for place in self._places
        ]

    def readings(self):
        readings = []
        for place in self._places:
            for direction in DIRECTIONS:
                for press in self.PRESSES:
                    value = self.cleaned_data.get(self.name(place, direction, press))
                    if value is not None:
                        readings.append(TensionReading(place, direction, value))
        return readings
