"""Fields for numbers, times and quantities as people type them, and choices among records."""

from django import forms
from django.forms.models import ModelChoiceIterator

from frimble.core.conclusions import InvalidInput
from frimble.core.units import read_quantity


class NumberField(forms.FloatField):
    """A number typed with a point or a comma, with its unit shown beside it."""

    default_error_messages = {"invalid": "That is not a number.", "required": "Type a number."}

    def __init__(self, *, unit="", **kwargs):
        kwargs.setdefault("widget", forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off"}))
        super().__init__(**kwargs)
        self.unit = unit

    def to_python(self, value):
        text = str(value).strip().replace(",", ".") if value not in self.empty_values else value
        try:
            return super().to_python(text)
        except forms.ValidationError:
            raise forms.ValidationError(f"“{value}” is not a number.") from None


class SecondsField(NumberField):
    """A time in seconds; who has a keyboard may type it as it is shown, such as `1 min 30 s`."""

    def __init__(self, **kwargs):
        super().__init__(unit="s", **kwargs)

    def to_python(self, value):
        if value in self.empty_values:
            return None
        try:
            return read_quantity(str(value), "s")
        except InvalidInput as error:
            raise forms.ValidationError(str(error)) from None


class WholeField(forms.IntegerField):
    """A whole number, typed without arrows that a wet glove hits."""

    default_error_messages = {"invalid": "A whole number."}

    def __init__(self, **kwargs):
        kwargs.setdefault("widget", forms.TextInput(attrs={"inputmode": "numeric", "autocomplete": "off"}))
        super().__init__(**kwargs)


class QuantityField(forms.CharField):
    """A quantity typed with or without its unit, cleaned to `unit`."""

    def __init__(self, *, unit, **kwargs):
        super().__init__(**kwargs)
        self.unit = unit

    def clean(self, value):
        text = super().clean(value)
        if not text:
            return None
        try:
            return read_quantity(text, self.unit)
        except InvalidInput as error:
            raise forms.ValidationError(str(error)) from None


class _ReadOnce(ModelChoiceIterator):
    """Choices that are read from the database once, however often a widget asks."""

    def __iter__(self):
        if not hasattr(self, "_read"):
            self._read = list(super().__iter__())
        return iter(self._read)


class RecordField(forms.ModelChoiceField):
    """A choice among records; the chosen one is taken from those that are offered."""

    iterator = _ReadOnce

    def to_python(self, value):
        offered = self.widget.choices
        if isinstance(offered, _ReadOnce) and value not in self.empty_values:
            key = str(self.prepare_value(value))
            for choice, _ in offered:
                if str(choice) == key:
                    return choice.instance
        return super().to_python(value)
