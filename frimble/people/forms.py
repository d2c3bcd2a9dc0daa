"""Sign-in."""

from django.contrib.auth.forms import AuthenticationForm


class SignInForm(AuthenticationForm):
    """Django's own form with words for the bench."""

    error_messages = {
        "invalid_login": "Name and password do not match. Passwords tell capitals from small letters.",
        "inactive": "This person no longer signs in here.",
    }

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["username"].label = "Name"
