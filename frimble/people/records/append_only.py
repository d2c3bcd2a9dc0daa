"""Records that are written once and stay."""

from django.db import models

_WORDS = "Records are append-only: write a new one that says what was wrong."


class AppendOnlyQuerySet(models.QuerySet):
    """Refuses to change or delete in bulk."""

    def delete(self):
        raise TypeError(_WORDS)

    def update(self, **kwargs):
        raise TypeError(_WORDS)


class AppendOnly(models.Model):
    """A model whose rows are never changed or deleted."""

    objects = AppendOnlyQuerySet.as_manager()

    class Meta:
        abstract = True

    def save(self, *args, **kwargs):
        if not self._state.adding:
            raise TypeError(_WORDS)
        super().save(*args, **kwargs)

    def delete(self, *args, **kwargs):
        raise TypeError(_WORDS)


class Attributed(AppendOnly):
    """A row that says when it was written and by whom, told in that order."""

    at = models.DateTimeField()
    by = models.ForeignKey("people.Person", on_delete=models.PROTECT, related_name="+")

    class Meta:
        abstract = True
        ordering = ["at", "pk"]
