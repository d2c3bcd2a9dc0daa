"""Proofs of films: the stencil to expect, worked out before anything is coated."""

import secrets

from django.db import models

from frimble.coatings.models import Emulsion
from frimble.core.units import show_seconds
from frimble.exposures.models import Lamp
from frimble.films.models import FilmProcess, ScanCheck
from frimble.people.background import BackgroundWork
from frimble.people.models import Person
from frimble.people.records.fields import FloatField, JSONField
from frimble.people.records.validators import Holding, positive
from frimble.screens.models import MeshType


def proof_name(proof, filename: str) -> str:
    """A generated name: nothing of what was sent becomes a path."""
    return f"proofs/{secrets.token_hex(16)}"


class StencilProof(BackgroundWork):
    """What a film will give on a mesh at a time. Written once by a person, then once by the worker.

    `known` is what it rests on, as `core.stencil.proof.constants` has it; `result` what was found.
    """

    answers = Holding("findings")

    scan = models.ForeignKey(ScanCheck, on_delete=models.PROTECT, related_name="proofs")
    mesh = models.ForeignKey(MeshType, on_delete=models.PROTECT, related_name="+")
    formula = models.CharField(max_length=60)
    emulsion = models.ForeignKey(Emulsion, on_delete=models.PROTECT, related_name="+")
    lamp = models.ForeignKey(Lamp, on_delete=models.PROTECT, related_name="+")
    film_process = models.ForeignKey(FilmProcess, on_delete=models.PROTECT, related_name="+")
    time_s = FloatField(validators=[positive])
    known = JSONField(validators=[Holding("rests_on")])
    picture = models.FileField(upload_to=proof_name, blank=True)
    at = models.DateTimeField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    class Meta:
        app_label = "stencils"
        ordering = ["-at", "-pk"]

    def __str__(self) -> str:
        return f"{self.scan.film} on {self.mesh}, {show_seconds(self.time_s)}"
