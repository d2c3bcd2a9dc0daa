"""Sessions in the database that know whose they are, so that a person can see and end them."""

import logging
from datetime import timedelta

from django.contrib.auth import SESSION_KEY
from django.contrib.sessions.backends.base import UpdateError
from django.contrib.sessions.backends.db import SessionStore as DatabaseStore
from django.core import signing
from django.db import OperationalError
from django.utils import timezone
from django.utils.dateparse import parse_datetime

from frimble.people import settings as house_settings
from frimble.people.door.memory import MEMORY

logger = logging.getLogger(__name__)

# How often a session that is used says so; more often would write with every page.
SEEN_EVERY = timedelta(minutes=10)
TABLET_COOKIE = "frimble_tablet"
_TABLET_AGE_S = 3 * 365 * 24 * 3600


class SessionStore(DatabaseStore):
    """Django's own store; person, device and moments stand in columns of their own beside the data.

    A session that cannot be written is held in memory.
    """

    @classmethod
    def get_model_class(cls):
        from frimble.people.door.models import Session

        return Session

    def create_model_instance(self, data):
        row = super().create_model_instance(data)
        row.person_id = data.get(SESSION_KEY)
        row.device, row.tablet = data.get("device", ""), data.get("tablet", False)
        row.began_at, row.seen_at = (parse_datetime(data[k]) if k in data else None for k in ("began", "seen"))
        return row

    def load(self):
        held = self._held()
        return super().load() if held is None else held

    def save(self, must_create=False):
        begun_in_memory = not must_create and self._held() is not None and not self.exists(self.session_key)
        try:
            super().save(must_create or begun_in_memory)
        except (OperationalError, UpdateError) as fault:
            if not isinstance(fault.__context__ if isinstance(fault, UpdateError) else fault, OperationalError):
                raise
            logger.error("A session is held in memory: the database cannot be written to.")
            MEMORY.set(self.session_key, self._get_session(no_load=must_create), self.get_expiry_age())
        else:
            MEMORY.delete(self.session_key)

    def _held(self) -> dict | None:
        return MEMORY.get(self.session_key) if self.session_key else None

    def delete(self, session_key=None):
        MEMORY.delete(session_key or self.session_key)
        super().delete(session_key)


def begin(request) -> None:
    """A session that somebody has just signed in to."""
    now = timezone.now()
    request.session["device"] = device_of(request)
    request.session["began"] = now.isoformat()
    request.session["tablet"] = is_tablet(request)
    _seen(request.session, now)


def keep(session) -> None:
    """A session that is used goes on; the next look at it moves its end."""
    seen, now = parse_datetime(session.get("seen", "") or ""), timezone.now()
    if seen is None or now - seen >= SEEN_EVERY:
        _seen(session, now)


def is_tablet(request) -> bool:
    """Whether this browser was registered as a tablet of the room, whoever signs in at it."""
    try:
        return signing.loads(request.COOKIES.get(TABLET_COOKIE, ""), salt=TABLET_COOKIE) == "tablet"
    except signing.BadSignature:
        return False


def make_tablet(request, response, yes: bool) -> None:
    """This browser belongs to the room: it stays signed in for longer; or it no longer does."""
    request.session["tablet"] = yes
    _seen(request.session, timezone.now())
    if not yes:
        response.delete_cookie(TABLET_COOKIE, samesite="Strict")
        return
    mark = signing.dumps("tablet", salt=TABLET_COOKIE)
    options = {"httponly": True, "samesite": "Strict", "secure": request.is_secure()}
    response.set_cookie(TABLET_COOKIE, mark, max_age=_TABLET_AGE_S, **options)


def _seen(session, now) -> None:
    settings = house_settings.current()
    hours = settings["room.tablet_idle_days"] * 24 if session.get("tablet") else settings["room.idle_h"]
    session["seen"] = now.isoformat()
    session.set_expiry(int(hours * 3600))


def device_of(request) -> str:
    """A browser as its owner would tell it from others: its kind and its address."""
    # Source: MDN, Browser detection using the user agent: "Mobi" stands in what phones call themselves.
    kind = "Phone" if "Mobi" in request.headers.get("User-Agent", "") else "Computer or tablet"
    return f"{kind} at {request.META['REMOTE_ADDR']}"
