"""The practice room: the real pages on a made-up shop with records of its own, for the people of this one."""

import json
import os
from pathlib import Path
from typing import Any

from django.conf import settings

from frimble.people.models import Person

# What of a person goes along; who may not record here may in the practice room.
_FIELDS = ("username", "password", "first_name", "is_active")


def folder() -> Path:
    """Where the practice room keeps its own records, apart from the shop's."""
    return Path(settings.VAR_DIR) / "practice"


def environment() -> dict[str, str]:
    """Of a process that is the practice room: its own folder and cookies, never the shop's database."""
    own = {name: value for name, value in os.environ.items() if name != "DATABASE_URL"}
    return own | {"FRIMBLE_VAR": str(folder()), "FRIMBLE_PRACTICE": "1"}


def address(host: str) -> str:
    """Where the practice room answers, as seen from a host; empty while it does not run."""
    try:
        running = json.loads((folder() / "runs.json").read_text())
        os.kill(running["process"], 0)
    except (OSError, ValueError, KeyError):
        return ""
    return f"http://{host}:{running['port']}/"


def say_it_runs(port: int) -> None:
    (folder() / "runs.json").write_text(json.dumps({"port": port, "process": os.getpid()}))


def people() -> list[dict[str, Any]]:
    """The shop's people as plain values, with what lets them in."""
    return list(Person.objects.exclude(role=Person.Role.STATION).values(*_FIELDS))


def take_people(rows: list[dict[str, Any]]) -> int:
    """People of the shop may enter and record in the practice room; how many there are."""
    for row in rows:
        Person.objects.update_or_create(
            username=row["username"],
            defaults={name: row[name] for name in _FIELDS} | {"role": Person.Role.TECHNICIAN},
        )
    return len(rows)
