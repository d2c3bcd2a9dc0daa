"""Fields that hold to their validators whenever a row is saved, so that no shop holds what its own package may not.

No migration tells the validators: one that changed nothing else would render every model that is near anew, and 160 of
them took 20 s.
"""

from typing import Any

from django.core.exceptions import ValidationError
from django.db import models

from frimble.core.conclusions import InvalidInput


class _Held:
    """In migrations it is the plain field."""

    def deconstruct(self) -> tuple[str, str, list[Any], dict[str, Any]]:
        name, _, args, kwargs = super().deconstruct()  # type: ignore[misc]  # of the field beside it
        kwargs.pop("validators", None)
        return name, f"django.db.models.{type(self).__name__}", args, kwargs


class FloatField(_Held, models.FloatField):
    """As Django's."""


class JSONField(_Held, models.JSONField):
    """As Django's."""


class PositiveIntegerField(_Held, models.PositiveIntegerField):
    """As Django's."""


def hold_columns(sender: type[models.Model], instance: models.Model, **kwargs: Any) -> None:
    """Before a row is saved, and before the transaction of that begins.

    Raises:
        InvalidInput: a value breaks a rule of its column, whose name is given.
    """
    for field in sender._meta.concrete_fields:
        if isinstance(field, _Held) and (value := getattr(instance, field.attname)) is not None:
            _hold(field, value)


def _hold(field: Any, value: Any) -> None:
    # Its own, without those of the database.
    for holds in field._validators:
        try:
            holds(value)
        except ValidationError as error:
            what = str(field.verbose_name).capitalize()
            raise InvalidInput(f"{what}: {str(error.messages[0]).lower()}", field.name) from None
