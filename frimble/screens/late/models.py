"""What was taken late, so that it is taken once."""

from django.db import models

from frimble.people.models import Person


class LateRecord(models.Model):
    """A record that a device kept and sent later; its number was made there."""

    id = models.UUIDField(primary_key=True)
    happened_at = models.DateTimeField()
    taken_at = models.DateTimeField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    path = models.CharField(max_length=200)

    class Meta:
        app_label = "screens"

    def __str__(self) -> str:
        return f"{self.path} at {self.happened_at:%Y-%m-%d %H:%M}"
