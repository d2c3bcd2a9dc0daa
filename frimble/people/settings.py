"""The house settings in force: the core's register with the shop's changes."""

import threading

from django.db import DatabaseError

from frimble.core.conclusions import InvalidInput
from frimble.core.settings import REGISTER, HouseSettings
from frimble.people.cached import CachedValue
from frimble.people.models import HouseSetting

# A row under this key marks the made-up shop, wherever its records are taken.
MADE_UP = "room.made_up"

KEPT = CachedValue("house-settings", 600)
# What a request has read; empty outside of requests, where every call reads anew.
_held = threading.local()


def current() -> HouseSettings:
    """The settings in force; within a request read once."""
    return _now()[0]


def begin_request(**kwargs) -> None:
    """A request begins in this thread: nothing is read yet."""
    _held.in_request, _held.read = True, None


def end_request(**kwargs) -> None:
    """It is over: what it read may change."""
    _held.in_request, _held.read = False, None


def is_made_up() -> bool:
    """Whether these are the records of the made-up shop."""
    return _now()[1]


def _now() -> tuple[HouseSettings, bool]:
    if not getattr(_held, "in_request", False):
        return KEPT.get(_read)
    if _held.read is None:
        _held.read = KEPT.get(_read)
    return _held.read


def _read() -> tuple[HouseSettings, bool]:
    rows = {row.key: row.value for row in HouseSetting.objects.all()}
    changed = {key: REGISTER[key].parse(value) for key, value in rows.items() if key in REGISTER}
    return HouseSettings(changed), MADE_UP in rows


def current_or_defaults() -> HouseSettings:
    """The shop's settings, or the register's where no shop has been set up yet: for commands that need no records."""
    try:
        return current()
    except DatabaseError:
        return HouseSettings()


def change(key: str, raw: str, reason: str, person, now) -> HouseSetting:
    """Set a house setting, or put it back when the value is the default again.

    Raises:
        InvalidInput: unknown key, a value outside its limits, or no reason given.
    """
    if key not in REGISTER:
        raise InvalidInput("There is no such house setting.", "key")
    value = REGISTER[key].parse(raw)
    if not reason.strip():
        raise InvalidInput("Say why: the next person will ask.", "reason")
    _held.read = None
    shown = f"{value:g}" if isinstance(value, float) else value
    row, _ = HouseSetting.objects.update_or_create(
        key=key,
        defaults={"value": shown, "reason": reason.strip()[:300], "changed_by": person, "changed_at": now},
    )
    return row
