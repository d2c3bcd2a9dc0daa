"""People added and changed, and what each sets for themselves."""

from django import forms

from frimble.people.models import Person
from frimble.ui.forms.act import ActForm

_NAME_AS = "Small letters, digits and dashes, such as odile"


def _password(label: str, autocomplete: str = "new-password", **kwargs) -> forms.CharField:
    widget = forms.PasswordInput(attrs={"autocomplete": autocomplete})
    return forms.CharField(label=label, max_length=200, strip=False, widget=widget, **kwargs)


class PersonForm(ActForm):
    """How somebody is shown, and what they may do."""

    shown_name = forms.CharField(label="Name on pages", max_length=60)
    role = forms.ChoiceField(label="Role", choices=Person.Role.choices, initial=Person.Role.TECHNICIAN)


class AddPersonForm(PersonForm):
    """Somebody new."""

    field_order = ["username", "shown_name", "role"]
    username = forms.RegexField(
        r"^[A-Za-z0-9][A-Za-z0-9._-]*$",
        label="Name to sign in with",
        max_length=60,
        help_text=_NAME_AS,
        error_messages={"invalid": f"{_NAME_AS}."},
        widget=forms.TextInput(attrs={"autocomplete": "off", "autocapitalize": "none"}),
    )


class NewPasswordForm(ActForm):
    """A password typed twice."""

    password = _password("New password", help_text="At least 12 characters; three or four words do well")
    again = _password("The same again")

    def clean(self):
        data = super().clean()
        if "password" in data and "again" in data and data["password"] != data["again"]:
            self.add_error("again", "The two differ.")
        return data


class ChangePasswordForm(NewPasswordForm):
    """Another password for somebody who knows the present one."""

    field_order = ["old", "password", "again"]
    old = _password("Present password", "current-password")


class CodeForm(ActForm):
    """A one-time code as it stands on paper."""

    code = forms.CharField(
        label="One-time code",
        max_length=60,
        widget=forms.TextInput(attrs={"autocomplete": "one-time-code", "autocapitalize": "characters"}),
    )


class PersonCodeForm(ActForm):
    """The four digits of a shared tablet."""

    digits = forms.CharField(
        label="Four digits, empty to take them back",
        max_length=12,
        required=False,
        widget=forms.PasswordInput(attrs={"inputmode": "numeric", "autocomplete": "off"}),
    )


class OwnForm(ActForm):
    """What follows somebody through all pages."""

    units = forms.ChoiceField(label="Units", choices=Person.Units.choices)
    light = forms.ChoiceField(label="Light", choices=Person.Light.choices)
    keys = forms.BooleanField(label="Single keys act: / for the slate, 1 to 9 for the stations", required=False)
