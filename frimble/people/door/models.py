"""Who is signed in where, and who tried in vain."""

from django.conf import settings
from django.contrib.sessions.base_session import AbstractBaseSession, BaseSessionManager
from django.db import models


class SessionManager(BaseSessionManager):
    use_in_migrations = True


class Session(AbstractBaseSession):
    """A browser that is signed in, as Django keeps it, with the person and the device it belongs to."""

    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, null=True, related_name="sessions")
    device = models.CharField(max_length=200, blank=True)
    tablet = models.BooleanField(default=False)
    began_at = models.DateTimeField(null=True)
    seen_at = models.DateTimeField(null=True)

    objects = SessionManager()

    class Meta:
        indexes = [models.Index(fields=["expire_date"])]

    @classmethod
    def get_session_store_class(cls):
        from frimble.people.door.sessions import SessionStore

        return SessionStore


class FailedTry(models.Model):
    """How often somebody tried in vain under one key: a name at an address, or an address whatever the name."""

    key = models.CharField(max_length=64, unique=True)
    count = models.PositiveIntegerField(default=0)
    last_at = models.DateTimeField()

    def __str__(self) -> str:
        return f"{self.count} tries, the last {self.last_at:%-d %B %H:%M}"
