"""The one-time code that guards the first start: printed in the terminal, its digest kept until the room has its lead."""

from pathlib import Path

from django.conf import settings

from frimble.people.accounts import codes
from frimble.people.models import Person


def _file() -> Path:
    return settings.VAR_DIR / "first_start_code"


def needed() -> bool:
    """Whether the room has nobody yet."""
    return not Person.objects.exists()


def make() -> str:
    """A new code, in place of an earlier one; its digest is kept where only this user reads."""
    code, path = codes.new_code(), _file()
    path.unlink(missing_ok=True)
    path.touch(mode=0o600)
    path.write_text(codes.digest(code))
    return code


def is_right(typed: str) -> bool:
    path = _file()
    return path.is_file() and codes.matches(typed, path.read_text())


def forget() -> None:
    _file().unlink(missing_ok=True)
