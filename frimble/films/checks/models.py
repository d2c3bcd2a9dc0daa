"""Scans of films, what their checks concluded, and what people think of it."""

import secrets

from django.db import models

from frimble.core.verdicts import FilmVerdict
from frimble.films.library.models import Film
from frimble.people.background import BackgroundWork
from frimble.people.models import Person
from frimble.people.records import Attributed
from frimble.people.records.fields import FloatField
from frimble.people.records.validators import Holding, positive
from frimble.screens.models import MeshType


def scan_name(check, filename: str) -> str:
    """A generated name: nothing of what was sent becomes a path."""
    return f"scans/{secrets.token_hex(16)}"


def unpacked_name(check, filename: str) -> str:
    """Apart from the scans: it can be made again, so no backup holds it."""
    return f"unpacked/{secrets.token_hex(16)}"


class ScanCheck(BackgroundWork):
    """A scan of a positive and what its check concluded. Written once by a person, then once by the check."""

    class State(models.TextChoices):
        WAITING = "waiting", "waiting"
        RUNNING = "running", "being checked"
        DONE = "done", "checked"
        REFUSED = "refused", "refused"
        FAILED = "failed", "broken off"

    answers = Holding("passed", "reason", "findings")

    film = models.ForeignKey(Film, on_delete=models.PROTECT, related_name="checks")
    scan = models.FileField(upload_to=scan_name)
    picture = models.FileField(upload_to=scan_name, blank=True)
    densities = models.FileField(upload_to=scan_name, blank=True)
    detail = models.FileField(upload_to=unpacked_name, blank=True)
    dpi = FloatField(null=True, blank=True, validators=[positive])
    encoding = models.CharField(max_length=8, default="srgb")
    wedge = models.CharField(max_length=300, blank=True)
    mesh = models.ForeignKey(MeshType, on_delete=models.PROTECT, null=True, blank=True, related_name="+")
    state = models.CharField(max_length=8, choices=State.choices, default=State.WAITING)
    at = models.DateTimeField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["-at", "-pk"]

    def __str__(self) -> str:
        return f"{self.film} {self.get_state_display()}"

    @property
    def verdict(self) -> str:
        """Passed, Faults, Not known, or how far the check has come."""
        if self.state != self.State.DONE:
            return self.get_state_display().capitalize()
        return self.found.capitalize()

    @property
    def found(self) -> FilmVerdict:
        """What the check came to."""
        return self.verdict_of(self.result.get("verdict"), self.result["passed"])

    @staticmethod
    def verdict_of(verdict: str | None, passed: bool) -> FilmVerdict:
        """As the result has it. Checks of before densities could be *not known* say only whether they passed."""
        return FilmVerdict(verdict or (FilmVerdict.PASSED if passed else FilmVerdict.FAULTS))

    @property
    def advice(self) -> str:
        """What to do with the film, in three words."""
        return {FilmVerdict.PASSED: "Passed.", FilmVerdict.NOT_KNOWN: "Not known yet."}.get(
            self.found, "Do not use yet."
        )

    @property
    def reason(self) -> str:
        """Why it passed, did not, or could not be checked; empty while it is being checked."""
        return self.result["reason"] if self.result else self.refusal


class Judgement(Attributed):
    """What a person thinks of one finding. Append-only: the newest stands."""

    check_of = models.ForeignKey(ScanCheck, on_delete=models.PROTECT, related_name="judgements")
    finding = models.PositiveIntegerField()
    accepted = models.BooleanField()
    reason = models.CharField(max_length=200, blank=True)

    class Meta(Attributed.Meta):
        constraints = [
            models.CheckConstraint(
                condition=models.Q(accepted=True) | ~models.Q(reason=""), name="dismissed_with_a_reason"
            )
        ]

    def __str__(self) -> str:
        return f"finding {self.finding} {'accepted' if self.accepted else 'dismissed'}"
