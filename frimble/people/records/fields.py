"""Fields whose validators are no matter of the database: no migration tells them.

A migration that changed nothing but validators would render every model that is near anew: 160 of them took 20 s.
"""

from typing import Any

from django.db import models


class _UntoldValidators:
    """In migrations it is the plain field."""

    def deconstruct(self) -> tuple[str, str, list[Any], dict[str, Any]]:
        name, _, args, kwargs = super().deconstruct()  # type: ignore[misc]  # of the field beside it
        kwargs.pop("validators", None)
        return name, f"django.db.models.{type(self).__name__}", args, kwargs


class FloatField(_UntoldValidators, models.FloatField):
    """As Django's."""


class JSONField(_UntoldValidators, models.JSONField):
    """As Django's."""


class PositiveIntegerField(_UntoldValidators, models.PositiveIntegerField):
    """As Django's."""
