"""Trials: one thing changed, what came of it, what follows."""

from django.db import models

from frimble.people.records import Attributed


class TrialNote(Attributed):
    """One thing that was changed to see what it does. Append-only."""

    changed = models.CharField(max_length=200)
    expected = models.CharField(max_length=200, blank=True)

    class Meta:
        app_label = "jobs"
        ordering = ["-at", "-pk"]

    def __str__(self) -> str:
        return self.changed


class TrialConclusion(Attributed):
    """What came of a trial, and what the room concludes. Append-only."""

    trial = models.OneToOneField(TrialNote, on_delete=models.PROTECT, related_name="outcome")
    result = models.CharField(max_length=300)
    conclusion = models.CharField(max_length=300)

    class Meta:
        app_label = "jobs"

    def __str__(self) -> str:
        return f"{self.trial}: {self.conclusion}"
