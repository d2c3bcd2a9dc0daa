"""The pictures and scans of a data package."""

import zipfile

from django.core.files import File
from django.core.files.storage import default_storage
from django.db import models

from frimble.core.conclusions import InvalidInput

_MOST_FILE = 2 * 2**30


def read_files(archive: zipfile.ZipFile, held) -> None:
    """Store the files that rows of these tables name.

    Raises:
        InvalidInput: one is missing or too large.
    """
    there = {}
    for item in archive.infolist():
        # Only names that this program makes itself: two plain parts, nothing that climbs.
        parts = item.filename.split("/")
        if parts[0] == "files" and len(parts) == 3 and all(p and p.isalnum() for p in parts[1:]):
            there["/".join(parts[1:])] = item
    for name in _named(held):
        if name not in there:
            raise InvalidInput(f"The package has lost the file {name}.", "file")
    for name, item in there.items():
        if item.file_size > _MOST_FILE:
            raise InvalidInput(f"{item.filename} is too large.", "file")
        if not default_storage.exists(name):
            with archive.open(item) as packed:
                default_storage.save(name, File(packed, name))


def _named(held) -> set[str]:
    """Files that rows name, but for those that are made again when wanted."""
    return {
        name
        for m in held
        for f in m._meta.concrete_fields
        if isinstance(f, models.FileField) and f.attname != "detail"
        for name in m._base_manager.exclude(**{f.attname: ""}).values_list(f.attname, flat=True)
        if name
    }
