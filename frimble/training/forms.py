"""The form of a drill: one field for each thing that is asked."""

from django import forms

from frimble.core.training.drill import Asks, Drill, Question
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import NumberField, WholeField

# More choices than these are a list to unfold.
_FEW = 6


class DrillForm(ActForm):
    """Answers by question, as the core takes them."""

    def __init__(self, drill: Drill, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.drill = drill
        for question in drill.questions:
            self.fields.update(_fields(question))

    def clean(self):
        return {question.name: self._answer(question) for question in self.drill.questions if self._whole(question)}

    def _whole(self, question: Question) -> bool:
        return all(name in self.cleaned_data for name in _fields(question))

    def _answer(self, question: Question):
        if question.asks is Asks.ORDER:
            places = {value: self.cleaned_data[_place(question, value)] for value, _ in question.choices}
            if len(set(places.values())) < len(places):
                self.add_error(None, "Two have one place in the order.")
            return sorted(places, key=lambda value: places[value])
        if question.asks is Asks.TAPS:
            return _seconds(self.cleaned_data[question.name])
        return self.cleaned_data[question.name]


def _with_none(question: Question) -> list[tuple[str, str]]:
    return [("", "choose"), *question.choices]


def _place(question: Question, value: str) -> str:
    return f"{question.name}_{value}"


def _fields(question: Question) -> dict[str, forms.Field]:
    if question.asks is Asks.ONE:
        few = len(question.choices) <= _FEW
        shown = {"choices": question.choices, "widget": forms.RadioSelect} if few else {"choices": _with_none(question)}
        return {question.name: forms.ChoiceField(label=question.label, **shown)}
    if question.asks is Asks.MANY:
        box = forms.CheckboxSelectMultiple
        return {
            question.name: forms.MultipleChoiceField(
                label=question.label, choices=question.choices, widget=box, required=False
            )
        }
    if question.asks is Asks.NUMBER:
        return {question.name: NumberField(label=question.label, unit=question.unit)}
    if question.asks is Asks.ORDER:
        most = len(question.choices)
        return {
            _place(question, value): WholeField(label=words, min_value=1, max_value=most)
            for value, words in question.choices
        }
    return {question.name: forms.CharField(label=question.label, max_length=400)}


def _seconds(text: str) -> list[float]:
    try:
        return [float(part) for part in text.split()]
    except ValueError:
        raise forms.ValidationError("These are no times.") from None
