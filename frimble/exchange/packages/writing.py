"""The whole shop as an open data package: a zip of CSV files with a `datapackage.json` that describes every column.

Source: Frictionless Data, Data Package and Table Schema specifications, version 1.
"""

import csv
import io
import json
import zipfile
from decimal import Decimal
from functools import cache

from django.apps import apps
from django.core.files.storage import default_storage
from django.core.serializers.json import DjangoJSONEncoder
from django.db import models

from frimble.exchange.packages import upgrades
from frimble.people.records.validators import not_negative, positive, share

_PROFILE = "tabular-data-package"
_TYPES = (
    (models.BooleanField, "boolean"), (models.DateTimeField, "datetime"), (models.DateField, "date"),
    (models.TimeField, "time"),
    (models.FloatField, "number"), (models.DecimalField, "number"), (models.IntegerField, "integer"),
    (models.AutoField, "integer"), (models.JSONField, "object"),
)  # fmt: skip
# A field's name ends with its unit.
_UNITS = {
    "n_per_cm": "N/cm", "per_cm": "1/cm", "mm": "mm", "um": "µm", "s": "s", "min": "min", "c": "°C", "deg": "°",
    "dpi": "1/in",
}  # fmt: skip
# Sign-ins and drafts stay where they are: a package is not for getting in.
_LEFT_OUT = frozenset({"password", "last_login", "person_code", "keys"})
_NOT_DATA = frozenset(
    {
        "exchange.Draft", "exchange.PackageReading", "people.Session", "people.SignInCode", "people.FailedTry",
        "people.Change", "screens.LateRecord",
    }
)  # fmt: skip


def tables() -> list[type[models.Model]]:
    """Every table of the shop, those that are referred to first."""
    own = [m for m in apps.get_models() if m.__module__.startswith("frimble.") and m._meta.label not in _NOT_DATA]
    ordered: list[type[models.Model]] = []

    def add(model):
        if model in ordered or model not in own:
            return
        for field in model._meta.concrete_fields:
            if field.is_relation and field.related_model is not model:
                add(field.related_model)
        ordered.append(model)

    for model in own:
        add(model)
    return ordered


def fields_of(model):
    left_out = _LEFT_OUT | getattr(model, "derived", frozenset())
    return [f for f in model._meta.concrete_fields if f.name not in left_out]


def write_package(file) -> None:
    """Write the shop into a file opened for writing bytes."""
    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as archive:
        models = tables()
        archive.writestr("datapackage.json", json.dumps(_described(models), indent=1, ensure_ascii=False))
        for model in models:
            archive.writestr(path_of(model), _csv_of(model))
        for name in sorted(_files(models)):
            if default_storage.exists(name):
                with default_storage.open(name) as held:
                    archive.writestr(f"files/{name}", held.read())


def _described(found) -> dict:
    return {
        "profile": _PROFILE,
        "name": "frimble-shop",
        "schema_version": upgrades.CURRENT,
        "title": "A screen room's register and records",
        "resources": [
            {
                "name": m._meta.label_lower.replace(".", "-"),
                "path": path_of(m),
                "encoding": "utf-8",
                "profile": "tabular-data-resource",
                "title": str(m._meta.verbose_name),
                "description": (m.__doc__ or "").strip().split("\n")[0],
                "schema": {
                    "fields": [_field(f) for f in fields_of(m)],
                    "primaryKey": m._meta.pk.attname,
                    "missingValues": [""],
                },
            }
            for m in found
        ],
    }


def _field(field) -> dict:
    column = {"name": field.attname, "type": type_of(field), "title": str(field.verbose_name)}
    if unit := _unit(field.attname):
        column["unit"] = unit
    if field.help_text:
        column["description"] = str(field.help_text)
    if field.is_relation:
        column["description"] = f"{field.related_model._meta.label_lower} {field.target_field.attname}"
    limits = {"required": not field.null, "unique": field.unique} | _bounds(field)
    if field.choices:
        limits["enum"] = [str(value) for value, _ in field.choices]
    return column | {"constraints": {k: v for k, v in limits.items() if v is not False}}


def _bounds(field) -> dict[str, int]:
    """What a value is at least and at most, where its column says so; the standard knows no open end."""
    rules = field.validators
    least = {"minimum": 0} if any(rule in rules for rule in (positive, not_negative, share)) else {}
    return least | ({"maximum": 1} if share in rules else {})


@cache
def type_of(field) -> str:
    target = field.target_field if field.is_relation else field
    return next((name for kind, name in _TYPES if isinstance(target, kind)), "string")


def _unit(name: str) -> str:
    return next((unit for ending, unit in _UNITS.items() if name == ending or name.endswith(f"_{ending}")), "")


def _csv_of(model) -> str:
    file = io.StringIO()
    writer = csv.writer(file, lineterminator="\n")
    fields = fields_of(model)
    writer.writerow([f.attname for f in fields])
    rows = model._base_manager.order_by("pk").values_list(*(f.attname for f in fields))
    writer.writerows([_text(v, f) for v, f in zip(row, fields, strict=True)] for row in rows.iterator())
    return file.getvalue()


def _text(value, field) -> str:
    if value is None:
        # An empty string and nothing differ; only text can be either.
        return "" if type_of(field) != "string" else "\\N"
    if isinstance(field, models.JSONField):
        return json.dumps(value, cls=DjangoJSONEncoder, ensure_ascii=False, sort_keys=True)
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, float | Decimal):
        return repr(float(value))
    return value.isoformat() if hasattr(value, "isoformat") else str(value)


def _files(found) -> set[str]:
    return {
        name
        for m in found
        for f in m._meta.concrete_fields
        if isinstance(f, models.FileField)
        for name in m._base_manager.exclude(**{f.attname: ""}).values_list(f.attname, flat=True)
        if name
    }


def path_of(model, version: int = upgrades.CURRENT) -> str:
    """Where a table lies in a package of this version."""
    return f"data/{upgrades.name_in(version, model._meta.label_lower)}.csv"
