"""Fields for numbers, times and quantities as people type them, and choices among records."""

from django import forms
from django.forms.models import ModelChoiceIterator

from frimble.core.conclusions import InvalidInput
from frimble.core.numbers import read_number, read_ratio
from frimble.core.units import read_amount, read_quantity


def _read(read, text):
    """What `read` makes of the text, or its message beside the field."""
    try:
        return read(str(text))
    except InvalidInput as error:
        raise forms.ValidationError(str(error)) from None


class _BeginsAsTyped:
    """A number that the field begins with is written as by a hand: 330, not 330.0."""

    def prepare_value(self, value):
        return f"{value:.12g}" if isinstance(value, float) else value


class NumberField(_BeginsAsTyped, forms.FloatField):
    """A number typed with a point or a comma, with its unit shown beside it."""

    default_error_messages = {"invalid": "That is not a number.", "required": "Type a number."}

    def __init__(self, *, unit="", **kwargs):
        kwargs.setdefault("widget", forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off"}))
        super().__init__(**kwargs)
        self.unit = unit

    def to_python(self, value):
        return None if value in self.empty_values else _read(read_number, value)


class SecondsField(NumberField):
    """A time in seconds; who has a keyboard may type it as it is shown, such as `1 min 30 s` or `1:30`."""

    def __init__(self, **kwargs):
        super().__init__(unit="s", **kwargs)

    def to_python(self, value):
        return None if value in self.empty_values else _read(lambda text: read_quantity(text, "s"), value)


class AmountField(forms.CharField):
    """An amount by volume or weight with its unit, cleaned to an `Amount`; None where nothing was typed."""

    def clean(self, value):
        text = super().clean(value)
        return _read(lambda typed: read_amount(typed, ""), text) if text else None


class RatioField(NumberField):
    """Parts to one, typed as `10` or `10:1`."""

    def to_python(self, value):
        return None if value in self.empty_values else _read(read_ratio, value)


class WholeField(forms.IntegerField):
    """A whole number, typed without arrows that a wet glove hits."""

    default_error_messages = {"invalid": "A whole number."}

    def __init__(self, **kwargs):
        kwargs.setdefault("widget", forms.TextInput(attrs={"inputmode": "numeric", "autocomplete": "off"}))
        super().__init__(**kwargs)


class QuantityField(_BeginsAsTyped, forms.CharField):
    """A quantity typed with or without its unit, cleaned to `unit`."""

    def __init__(self, *, unit, **kwargs):
        super().__init__(**kwargs)
        self.unit = unit

    def clean(self, value):
        text = super().clean(value)
        if not text:
            return None
        return _read(lambda typed: read_quantity(typed, self.unit), text)


class _ReadOnce(ModelChoiceIterator):
    """Choices that are read from the database once, however often a widget asks."""

    def __init__(self, field, records=None):
        super().__init__(field)
        if records is not None:
            first = [] if field.empty_label is None else [("", field.empty_label)]
            self._read = first + [self.choice(r) for r in records]

    def __iter__(self):
        if not hasattr(self, "_read"):
            self._read = list(super().__iter__())
        return iter(self._read)


class DayField(forms.DateField):
    """A day, chosen or typed as 2026-01-31."""

    def __init__(self, **kwargs):
        widget = forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d")
        super().__init__(widget=widget, input_formats=["%Y-%m-%d"], **kwargs)


class HourField(forms.TimeField):
    """An hour of the day, chosen or typed as 14:30."""

    def __init__(self, **kwargs):
        super().__init__(widget=forms.TimeInput(attrs={"type": "time"}, format="%H:%M"), **kwargs)


class RecordField(forms.ModelChoiceField):
    """A choice among records; the chosen one is taken from those that are offered."""

    iterator = _ReadOnce

    def offer(self, records):
        """Offer records that were read already, in their order."""
        self.widget.choices = self.iterator(self, records)

    @property
    def records(self) -> list:
        """What is offered, in its order."""
        return [choice.instance for choice, _ in self.widget.choices if choice]

    def to_python(self, value):
        offered = self.widget.choices
        if isinstance(offered, _ReadOnce) and value not in self.empty_values:
            key = str(self.prepare_value(value))
            for choice, _ in offered:
                if str(choice) == key:
                    return choice.instance
        return super().to_python(value)
