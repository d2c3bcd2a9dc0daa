"""The lead and the house, as the first start asks for them."""

from zoneinfo import available_timezones

from django import forms

from frimble.core.settings import REGISTER
from frimble.people.accounts.forms import AddPersonForm, NewPasswordForm

SCHOOLS = [s for s in REGISTER.values() if s.choices and s.group != "room"]


def _choice(key: str, **kwargs) -> forms.ChoiceField:
    setting = REGISTER[key]
    return forms.ChoiceField(label=setting.label, choices=list(setting.choices.items()), **kwargs)


class FirstStartForm(NewPasswordForm):
    """Who leads the room, and how it counts."""

    field_order = ["code", "username", "shown_name", "password", "again", "time_zone", "units", "paper", "decimal"]
    code = forms.CharField(
        label="Code from the terminal",
        max_length=60,
        help_text="Where Frimble was started, it printed four groups of four",
        widget=forms.TextInput(attrs={"autocomplete": "off", "autocapitalize": "characters"}),
    )
    username = AddPersonForm.base_fields["username"]
    shown_name = forms.CharField(label="Your name on pages", max_length=60)
    time_zone = forms.ChoiceField(label="Time zone")
    units = _choice("room.units")
    paper = _choice("room.paper")
    decimal = _choice("room.decimal")

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        names = sorted(name for name in available_timezones() if "/" in name and not name.startswith("Etc/"))
        self.fields["time_zone"].choices = [(name, name.replace("_", " ")) for name in ("UTC", *names)]
        self.fields["units"].label = "Units"


class SchoolsForm(forms.Form):
    """Which of the trade's schools the house follows."""

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        for setting in SCHOOLS:
            self.fields[setting.key] = forms.ChoiceField(
                label=setting.label,
                choices=list(setting.choices.items()),
                initial=setting.default,
                widget=forms.RadioSelect,
                help_text=setting.reason,
            )
