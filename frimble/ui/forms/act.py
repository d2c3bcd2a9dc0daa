"""Forms whose action may still find fault with what was typed."""

from django import forms

from frimble.core.conclusions import InvalidInput, RuleViolation


class ActForm(forms.Form):
    """A form whose action may still find fault with what was typed."""

    refusal: RuleViolation | None = None

    @property
    def overridable(self) -> bool:
        """Whether what refused it may be overridden by a lead."""
        return self.refusal is not None and self.refusal.overridable

    def attempt(self, act):
        """Run `act(cleaned data)`; what the core says goes beside the field.

        Returns the action's record, or None with the form's errors filled.
        """
        if not self.is_valid():
            return None
        try:
            return act(self.cleaned_data)
        except InvalidInput as error:
            self._say(error.field, str(error))
        except RuleViolation as refusal:
            self.refusal = refusal
            self._say(refusal.field, refusal.reason)
        return None

    def _say(self, field, message):
        """Beside the field where the form has it, else above the form."""
        self.add_error(field if field in self.fields else None, message)
