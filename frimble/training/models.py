"""Drills that people did, what is remembered of their skills, and what leads signed."""

from django.db import models

from frimble.people.models import Person
from frimble.people.records import Attributed
from frimble.people.records.fields import JSONField
from frimble.people.records.validators import Holding


class DrillRun(models.Model):
    """One drill of one person: which it was, and once it is answered the answer with its marks.

    The drill itself is made anew from skill, level and seed. Written once when it begins, then once when it is answered.
    """

    person = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="drills")
    skill = models.CharField(max_length=12)
    level = models.PositiveSmallIntegerField()
    seed = models.PositiveIntegerField()
    begun_at = models.DateTimeField()
    answer = models.JSONField(null=True)
    score = models.FloatField(null=True)
    answered_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["pk"]
        indexes = [models.Index(fields=["person", "skill"])]

    def __str__(self) -> str:
        return f"{self.person}, {self.skill} {self.level}"


class SkillMemory(models.Model):
    """When a person's skill is to be drilled again, with the card of the scheduler."""

    person = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="skill_memories")
    skill = models.CharField(max_length=12)
    due_at = models.DateTimeField()
    card = JSONField(validators=[Holding()])

    class Meta:
        ordering = ["due_at"]
        constraints = [models.UniqueConstraint(fields=["person", "skill"], name="a_skill_is_remembered_once")]

    def __str__(self) -> str:
        return f"{self.person}, {self.skill}, due {self.due_at:%Y-%m-%d}"


class SkillSignature(Attributed):
    """A lead signed that somebody has a skill, or took that back. Append-only."""

    person = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="skill_signatures")
    skill = models.CharField(max_length=12)
    signed = models.BooleanField()
    note = models.CharField(max_length=200, blank=True)

    def __str__(self) -> str:
        return f"{self.skill} of {self.person}: {'signed' if self.signed else 'taken back'}"
