"""What the press said of prints."""

import secrets

from django.db import models

from frimble.core.press.feedback import QUESTIONS, Print
from frimble.people.records import Attributed
from frimble.people.records.fields import FloatField
from frimble.people.records.validators import not_negative
from frimble.screens.models import Cycle, MeshInstallation


def print_name(feedback, filename: str) -> str:
    """A generated name: nothing of what was sent becomes a path."""
    return f"prints/{secrets.token_hex(16)}"


class PressFeedback(Attributed):
    """What was seen of a screen's prints at one moment of a run; the newest of a run stands. Append-only.

    Impressions are those made so far in this run. Off-contact in mm, the ink's temperature in °C and s held at it.
    """

    installation = models.ForeignKey(MeshInstallation, on_delete=models.PROTECT, related_name="press_feedback")
    cycle = models.ForeignKey(Cycle, on_delete=models.PROTECT, null=True, related_name="press_feedback")
    visit = models.ForeignKey("PressVisit", on_delete=models.PROTECT, null=True, related_name="feedback")
    opacity = models.CharField(max_length=8, blank=True)
    sharpness = models.CharField(max_length=8, blank=True)
    fit = models.CharField(max_length=8, blank=True)
    hold = models.CharField(max_length=8, blank=True)
    impressions = models.PositiveIntegerField(null=True)
    passes = models.PositiveSmallIntegerField(null=True)
    flashes = models.PositiveSmallIntegerField(null=True)
    ink_fault = models.CharField(max_length=8, blank=True)
    ink = models.CharField(max_length=10, blank=True)
    squeegee = models.CharField(max_length=60, blank=True)
    off_contact_mm = FloatField(null=True, validators=[not_negative])
    ink_c = models.FloatField(null=True)
    ink_s = FloatField(null=True, validators=[not_negative])
    blend = models.BooleanField(default=False)
    photo = models.FileField(upload_to=print_name, blank=True)
    note = models.CharField(max_length=300, blank=True)

    class Meta:
        app_label = "press"
        ordering = ["-at", "-pk"]

    def __str__(self) -> str:
        return f"{self.installation.frame}: {self.words or 'impressions'}"

    @property
    def screen_code(self) -> str:
        """For the log of writes."""
        return self.installation.frame.code

    @property
    def words(self) -> str:
        """The answers that were given, in a row."""
        given = [(answers, getattr(self, name)) for name, (_, answers) in QUESTIONS.items()]
        return ", ".join(answers[code] for answers, code in given if code in answers)

    def as_core(self) -> Print:
        return Print(
            self.opacity, self.sharpness, self.fit, self.hold, self.ink_fault, self.passes, self.flashes
        )  # fmt: skip
