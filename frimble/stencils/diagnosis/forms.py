"""What is seen on a stencil, answers to what was asked, and the cause that was found."""

from django import forms

from frimble.core.stencil.diagnosis.codes import FACTS, Fact, Symptom
from frimble.core.stencil.diagnosis.symptoms import SYMPTOMS
from frimble.ui.forms.act import ActForm
from frimble.ui.forms.fields import NumberField, SecondsField

_YES_NO = {"yes": True, "no": False}
_NOT_KNOWN = ("", "not known")


def fact_field(fact: Fact) -> forms.Field:
    """The field that a fact is answered in; nothing typed is not known."""
    kwargs = {"label": fact.label, "required": False}
    if fact.yes_no:
        return forms.ChoiceField(choices=[_NOT_KNOWN, *((k, k) for k in _YES_NO)], **kwargs)
    if fact.several:
        return forms.MultipleChoiceField(
            choices=[(w, w) for w in fact.words], widget=forms.CheckboxSelectMultiple, **kwargs
        )
    if fact.words:
        return forms.ChoiceField(choices=[_NOT_KNOWN, *((w, w) for w in fact.words)], **kwargs)
    if fact.unit == "s":
        return SecondsField(min_value=fact.low, max_value=fact.high, **kwargs)
    if fact.share:
        return NumberField(unit="%", min_value=100 * fact.low, max_value=100 * fact.high, **kwargs)
    return NumberField(unit=fact.unit, min_value=fact.low, max_value=fact.high, **kwargs)


class SeenForm(ActForm):
    """What is seen, with a field for each fact that may be answered."""

    symptoms = forms.MultipleChoiceField(
        label="What do you see?", choices=[(s.value, SYMPTOMS[s].label) for s in Symptom], required=False
    )

    def __init__(self, *args, answerable=(), **kwargs):
        super().__init__(*args, **kwargs)
        for name in answerable:
            self.fields[name] = fact_field(FACTS[name])

    def answers(self) -> dict:
        """The facts that were answered and can be."""
        self.is_valid()
        typed = {n: v for n, v in self.cleaned_data.items() if n in FACTS and v not in (None, "", [])}
        return {name: _taken(FACTS[name], value) for name, value in typed.items()}

    def seen(self) -> tuple[Symptom, ...]:
        self.is_valid()
        return tuple(Symptom(s) for s in self.cleaned_data.get("symptoms", ()))


def _taken(fact: Fact, value):
    if fact.yes_no:
        return _YES_NO[value]
    if fact.several:
        return tuple(value)
    return value / 100 if fact.share else value


class FoundForm(ActForm):
    """The cause that was found, and how it is known where the records speak against it."""

    cause = forms.CharField(max_length=40)
    note = forms.CharField(
        label="How you know (wanted where the records speak against it)", max_length=300, required=False
    )
