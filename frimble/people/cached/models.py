"""The record of changes that all processes share."""

from django.db import models


class Change(models.Model):
    """Something that a kept value rests on was written, in the transaction that wrote it.

    The token is random: it tells a change that was rolled back from the next one, and two that were committed in another
    order than they were numbered.
    """

    value = models.CharField(max_length=40, db_index=True)
    token = models.IntegerField()

    class Meta:
        app_label = "people"

    def __str__(self) -> str:
        return f"{self.value} {self.token}"
