"""Work that was not taken."""

from django.db import models

from frimble.core.costing.refused import REFUSAL_WORDS, Refusal, Refused
from frimble.people.records import Attributed
from frimble.people.records.fields import FloatField
from frimble.people.records.validators import not_negative, positive


class RefusedWork(Attributed):
    """Work that was refused, why, and what it would have brought in the shop's money. Append-only."""

    words = models.CharField(max_length=120)
    reason = models.CharField(max_length=12, choices=[(r.value, REFUSAL_WORDS[r]) for r in Refusal])
    width_mm = FloatField(null=True, validators=[positive])
    height_mm = FloatField(null=True, validators=[positive])
    money = FloatField(null=True, validators=[not_negative])

    class Meta:
        ordering = ["-at", "-pk"]
        verbose_name_plural = "refused work"

    def __str__(self) -> str:
        return f"{self.words}: {self.get_reason_display()}"

    def as_core(self) -> Refused:
        size = (self.width_mm, self.height_mm) if self.width_mm and self.height_mm else None
        return Refused(Refusal(self.reason), self.money, size)
