"""The whole shop as an open data package: a zip of CSV files with a `datapackage.json` that describes every column.

Source: Frictionless Data, Data Package and Table Schema specifications, version 1.
"""

import csv
import io
import json
import zipfile
from decimal import Decimal

from django.apps import apps
from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.core.serializers.json import DjangoJSONEncoder
from django.db import connection, models, transaction
from django.utils.dateparse import parse_date, parse_datetime

from frimble.core.conclusions import InvalidInput
from frimble.exchange import upgrades

_PROFILE = "tabular-data-package"
_TYPES = (
    (models.BooleanField, "boolean"), (models.DateTimeField, "datetime"), (models.DateField, "date"),
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
_NOT_DATA = frozenset({"exchange.Draft", "people.Session", "people.SignInCode", "people.FailedTry"})
_MOST_FILE = 2 * 2**30


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


def _fields(model):
    return [f for f in model._meta.concrete_fields if f.name not in _LEFT_OUT]


def write_package(file) -> None:
    """Write the shop into a file opened for writing bytes."""
    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as archive:
        models = tables()
        archive.writestr("datapackage.json", json.dumps(_described(models), indent=1, ensure_ascii=False))
        for model in models:
            archive.writestr(_path(model), _csv_of(model))
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
                "path": _path(m),
                "encoding": "utf-8",
                "profile": "tabular-data-resource",
                "title": str(m._meta.verbose_name),
                "description": (m.__doc__ or "").strip().split("\n")[0],
                "schema": {
                    "fields": [_field(f) for f in _fields(m)],
                    "primaryKey": m._meta.pk.attname,
                    "missingValues": [""],
                },
            }
            for m in found
        ],
    }


def _field(field) -> dict:
    column = {"name": field.attname, "type": _type(field), "title": str(field.verbose_name)}
    if unit := _unit(field.attname):
        column["unit"] = unit
    if field.help_text:
        column["description"] = str(field.help_text)
    if field.is_relation:
        column["description"] = f"{field.related_model._meta.label_lower} {field.target_field.attname}"
    limits = {"required": not field.null, "unique": field.unique}
    if field.choices:
        limits["enum"] = [str(value) for value, _ in field.choices]
    return column | {"constraints": {k: v for k, v in limits.items() if v}}


def _type(field) -> str:
    target = field.target_field if field.is_relation else field
    return next((name for kind, name in _TYPES if isinstance(target, kind)), "string")


def _unit(name: str) -> str:
    return next((unit for ending, unit in _UNITS.items() if name == ending or name.endswith(f"_{ending}")), "")


def _csv_of(model) -> str:
    file = io.StringIO()
    writer = csv.writer(file, lineterminator="\n")
    fields = _fields(model)
    writer.writerow([f.attname for f in fields])
    rows = model._base_manager.order_by("pk").values_list(*(f.attname for f in fields))
    writer.writerows([_text(v, f) for v, f in zip(row, fields, strict=True)] for row in rows.iterator())
    return file.getvalue()


def _text(value, field) -> str:
    if value is None:
        # An empty string and nothing differ; only text can be either.
        return "" if _type(field) != "string" else "\\N"
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


@transaction.atomic
def read_package(file) -> dict[str, int]:
    """Read a package into an empty shop: rows by table. People come without passwords.

    Raises:
        InvalidInput: not a package, one of another version, a shop that is not empty, or a value that does not fit; the
            table, row and column are named and nothing is kept.
    """
    try:
        archive = zipfile.ZipFile(file)
        description = json.loads(archive.read("datapackage.json"))
        paths = {r["path"] for r in description["resources"]}
        version = int(description.get("schema_version", 1))
    except (zipfile.BadZipFile, KeyError, ValueError, TypeError):
        raise InvalidInput("That is not a data package: a zip with datapackage.json is wanted.", "file") from None
    if version not in (*upgrades.UPGRADES, upgrades.CURRENT):
        raise InvalidInput(f"The package is of version {version}: this program reads up to {upgrades.CURRENT}.", "file")
    own_tables = tables()
    _must_be_empty(own_tables)
    held = [m for m in own_tables if not upgrades.is_new_since(version, m._meta.label_lower)]
    missing = [m._meta.label for m in held if _path(m, version) not in paths]
    if missing:
        raise InvalidInput(f"The package has no table {missing[0]}: it is from another version.", "file")
    with connection.constraint_checks_disabled():
        counted = {m._meta.label: _read_table(m, archive, version) for m in held}
    connection.check_constraints()
    _read_files(archive)
    return counted


def _must_be_empty(found) -> None:
    for model in found:
        if model._meta.label == "people.Person":
            continue
        if model._base_manager.exists():
            raise InvalidInput(
                f"The shop is not empty: {model._meta.verbose_name_plural} are there. Nothing was read.", "file"
            )


def _path(model, version: int = upgrades.CURRENT) -> str:
    return f"data/{upgrades.name_in(version, model._meta.label_lower)}.csv"


def _read_table(model, archive, version: int) -> int:
    name = _path(model, version)
    headings, *rows = list(csv.reader(io.StringIO(archive.read(name).decode("utf-8")))) or [[]]
    headings, rows = upgrades.upgraded(version, model._meta.label_lower, headings, rows)
    fields = {f.attname: f for f in _fields(model)}
    if set(headings) != set(fields):
        odd = sorted(set(headings) ^ set(fields))[0]
        raise InvalidInput(f"{name}: column {odd} does not fit this version.", "file")
    if model._meta.label == "people.Person":
        model._base_manager.all().delete()  # whoever set the shop up is replaced by its own people
    made = []
    for number, row in enumerate(rows, start=2):
        values = {}
        for heading, text in zip(headings, row, strict=False):
            try:
                values[heading] = _value(text, fields[heading])
            except (ValueError, TypeError):
                raise InvalidInput(f"{name}, row {number}, {heading}: “{text[:60]}” does not fit.", "file") from None
        made.append(model(**values))
    if model._meta.label == "people.Person":
        for person in made:
            person.set_unusable_password()
    model._base_manager.bulk_create(made, batch_size=400)
    return len(made)


def _value(text: str, field):
    kind = _type(field)
    if kind == "string":
        return None if text == "\\N" else text
    if text == "":
        return None
    if kind == "boolean":
        return {"true": True, "false": False}[text]
    if kind == "object":
        return json.loads(text)
    if kind in ("datetime", "date"):
        read = (parse_datetime if kind == "datetime" else parse_date)(text)
        if read is None:
            raise ValueError(text)
        return read
    return int(text) if kind == "integer" else float(text)


def _read_files(archive) -> None:
    for item in archive.infolist():
        # Only names that this program makes itself: two plain parts, nothing that climbs.
        parts = item.filename.split("/")
        if parts[0] != "files" or len(parts) != 3 or not all(p and p.isalnum() for p in parts):
            continue
        if item.file_size > _MOST_FILE:
            raise InvalidInput(f"{item.filename} is too large.", "file")
        name = "/".join(parts[1:])
        if not default_storage.exists(name):
            default_storage.save(name, ContentFile(archive.read(item)))
