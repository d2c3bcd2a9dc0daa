"""Two step tests set against each other."""

from django import forms

from frimble.screens.steps.forms import ActForm


class ComparisonForm(ActForm):
    """Two read tests, and the question that is to be kept with their answer."""

    one = forms.TypedChoiceField(label="This test", empty_value=None)
    other = forms.TypedChoiceField(label="Against", empty_value=None)
    question = forms.CharField(label="What the trial was to tell", max_length=160, required=False)

    def __init__(self, *args, tests, **kwargs):
        super().__init__(*args, **kwargs)
        self.tests = {str(t.pk): t for t in tests}
        words = [(pk, f"{t}, {t.screen.frame.code}: {t.setup_words}") for pk, t in self.tests.items()]
        for name in ("one", "other"):
            self.fields[name].choices = [("", "choose a test"), *words]
            self.fields[name].coerce = self.tests.get
