"""Searches kept under a name."""

from django.db import models

from frimble.people.models import Person


class SavedSearch(models.Model):
    """A search somebody wants to see again."""

    name = models.CharField(max_length=40)
    query = models.CharField(max_length=300)
    by = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="saved_searches")

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["by", "name"], name="searches_are_named_once")]

    def __str__(self) -> str:
        return self.name
