"""How long somebody waits who tried in vain: longer each time, never for good.

A try is counted before it is looked at, so that many at once gain nothing; one that succeeds takes its count back. While
somebody waits, further tries are turned away uncounted: the wait ends whatever others do. Who has signed in on a device
before is counted apart from the rest of its address, so nobody at the same address can hold them up.
Source: OWASP, Authentication Cheat Sheet and Slow Down Online Guessing Attacks with Device Cookies.
"""

import secrets
from collections.abc import Callable
from dataclasses import dataclass
from datetime import timedelta

from django.core import signing
from django.db import OperationalError, transaction
from django.utils import timezone
from django.utils.crypto import salted_hmac

from frimble.core.units import show_seconds
from frimble.people.door.memory import MEMORY
from frimble.people.door.models import FailedTry

DEVICE_COOKIE = "frimble_device"
_DEVICE_AGE_S = 365 * 24 * 3600
_LONGEST_S = 15 * 60
_FORGOTTEN_AFTER = timedelta(hours=1)


@dataclass(frozen=True)
class Limit:
    """Tries counted together: under which key, and how many are free before the waiting begins."""

    key: str
    free: int


def limits_for(request, name: str) -> list[Limit]:
    """What a try of this name from this browser counts towards."""
    device = _device_of(request, name)
    if device:
        return [Limit(_key("device", name, device), 5)]
    address = request.META.get("REMOTE_ADDR", "")
    return [Limit(_key("name", name, address), 5), Limit(_key("address", address), 30)]


def begin(limits: list[Limit]) -> float:
    """Count a try; seconds to wait, without counting it, where it comes too soon."""
    keys = [limit.key for limit in limits]
    try:
        with transaction.atomic():
            rows = {row.key: row for row in FailedTry.objects.select_for_update().filter(key__in=keys)}
            return _count(limits, rows, lambda row: row.save())
    except OperationalError:
        return _count(limits, MEMORY.get_many(keys), lambda row: MEMORY.set(row.key, row, _FORGOTTEN_AFTER.seconds))


def _count(limits: list[Limit], rows: dict[str, FailedTry], keep: Callable[[FailedTry], None]) -> float:
    now = timezone.now()
    wait = max((_wait_s(rows.get(limit.key), limit.free, now) for limit in limits), default=0.0)
    if wait > 0:
        return wait
    for limit in limits:
        row = rows.get(limit.key) or FailedTry(key=limit.key)
        row.count = 1 if _is_forgotten(row, now) else row.count + 1
        row.last_at = now
        keep(row)
    return 0.0


def succeeded(limits: list[Limit]) -> None:
    """The try was right: the name's own count is gone, the address has one less."""
    MEMORY.delete_many([limit.key for limit in limits])
    try:
        _take_back(limits)
    except OperationalError:
        return


@transaction.atomic
def _take_back(limits: list[Limit]) -> None:
    own, *shared = limits
    FailedTry.objects.filter(key=own.key).delete()
    for row in FailedTry.objects.filter(key__in=[limit.key for limit in shared], count__gt=0):
        row.count -= 1
        row.save(update_fields=["count"])


def remember_device(request, response, name: str) -> None:
    """This browser is known to belong to this person from now on."""
    value = signing.dumps([_key("person", name), secrets.token_hex(8)], salt=DEVICE_COOKIE)
    response.set_cookie(
        DEVICE_COOKIE, value, max_age=_DEVICE_AGE_S, httponly=True, samesite="Strict", secure=request.is_secure()
    )


def _device_of(request, name: str) -> str:
    try:
        person, device = signing.loads(
            request.COOKIES.get(DEVICE_COOKIE, ""), salt=DEVICE_COOKIE, max_age=_DEVICE_AGE_S
        )
    except (signing.BadSignature, ValueError):
        return ""
    return device if person == _key("person", name) else ""


def _wait_s(row: FailedTry | None, free: int, now) -> float:
    if row is None or row.count < free or _is_forgotten(row, now):
        return 0.0
    # 2 s after the first beyond the free ones, doubled each time.
    wait = min(2.0 ** min(row.count - free + 1, 12), _LONGEST_S)
    return wait - (now - row.last_at).total_seconds()


def _is_forgotten(row: FailedTry, now) -> bool:
    return row.last_at is None or now - row.last_at > _FORGOTTEN_AFTER


def _key(*parts: str) -> str:
    """Not as typed: somebody types a password into the field of the name."""
    return salted_hmac("frimble.people.throttle", "\x1f".join(parts).casefold(), algorithm="sha256").hexdigest()


def in_words(wait_s: float) -> str:
    """A wait as a page says it."""
    return show_seconds(max(1.0, float(round(wait_s))))
