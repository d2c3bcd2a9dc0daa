"""What lets somebody in who has no password yet, or has forgotten it."""

from django.conf import settings
from django.db import models
from django.utils import timezone


class SignInCode(models.Model):
    """A code that is good once, for a time: it is handed over on paper or as a link; only its digest is kept."""

    person = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="sign_in_code")
    digest = models.CharField(max_length=64, unique=True)
    made_at = models.DateTimeField()
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+")
    ends_at = models.DateTimeField()

    def __str__(self) -> str:
        return f"for {self.person}, until {timezone.localtime(self.ends_at):%-d %B %H:%M}"
