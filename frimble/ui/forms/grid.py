"""Nine readings that lie on the page as their places lie on the glass."""

from django import forms
from django.utils.html import format_html, format_html_join

from frimble.core.conclusions import InvalidInput
from frimble.core.numbers import read_number

_PLACES = (
    "upper left", "upper middle", "upper right", "middle left", "middle", "middle right", "lower left", "lower middle",
    "lower right",
)  # fmt: skip


class NineInputs(forms.Widget):
    """Nine fields in three rows; sent as `name_0` … `name_8`, row by row."""

    def value_from_datadict(self, data, files, name):
        return [data.get(f"{name}_{k}", "").strip() for k in range(9)]

    def value_omitted_from_data(self, data, files, name):
        return not any(f"{name}_{k}" in data for k in range(9))

    def render(self, name, value, attrs=None, renderer=None):
        typed = value or [""] * 9
        inputs = format_html_join(
            "\n",
            '<input type="text" inputmode="decimal" autocomplete="off" name="{}_{}" value="{}" aria-label="{}">',
            ((name, k, typed[k], place.capitalize()) for k, place in enumerate(_PLACES)),
        )
        return format_html('<div class="nine" role="group" aria-label="Nine places">{}</div>', inputs)


class NineReadings(forms.Field):
    """Cleaned to three rows of three numbers, or None where nothing was typed."""

    widget = NineInputs

    def clean(self, value):
        if not any(value):
            return None
        missing = [place for place, typed in zip(_PLACES, value, strict=True) if not typed]
        if missing:
            raise forms.ValidationError(f"All nine or none: {', '.join(missing)} still to read.")
        numbers = [self._read(place, typed) for place, typed in zip(_PLACES, value, strict=True)]
        return [numbers[k : k + 3] for k in (0, 3, 6)]

    @staticmethod
    def _read(place: str, typed: str) -> float:
        try:
            return read_number(typed)
        except InvalidInput as error:
            raise forms.ValidationError(f"{place.capitalize()}: {error}") from None
