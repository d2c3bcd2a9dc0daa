"""What the pages about people show."""

from dataclasses import dataclass
from datetime import datetime

from django.utils import timezone

from frimble.core.numbers import counted
from frimble.people.accounts import queries
from frimble.people.models import Person, Session

# What each role may do, in the words of the room.
ROLES = {
    Person.Role.LEAD: "records everything, changes house settings and people, goes on regardless with a reason",
    Person.Role.TECHNICIAN: "records all screen-room work",
    Person.Role.PRESS: "looks at everything, reports from the press",
    Person.Role.TRAINEE: "looks at everything; how a step is done stands open on its page",
    Person.Role.STATION: "a tablet on the wall: looks at everything, each record is signed with a person's four digits",
}


@dataclass(frozen=True)
class PersonRow:
    """One line of the list."""

    person: Person
    role: str
    state: str
    due: bool


@dataclass(frozen=True)
class SessionRow:
    """One place where somebody is signed in."""

    key_start: str
    device: str
    tablet: bool
    began_at: datetime | None
    seen_at: datetime | None
    here: bool


def rows() -> list[PersonRow]:
    return [PersonRow(p, p.get_role_display(), *_state(p)) for p in queries.everybody()]


def _state(person) -> tuple[str, bool]:
    """In words how somebody stands at the door, and whether the lead has something to do."""
    if not person.is_active:
        return "has left; the records stay", False
    code = getattr(person, "sign_in_code", None)
    if code and code.ends_at > timezone.now():
        return "has a code that was not used yet", True
    if not person.has_usable_password():
        return "cannot sign in: make a code", True
    if person.live:
        return f"signed in on {counted(person.live, 'device', 'devices')}", False
    return "not signed in", False


def session_rows(person: Person, here: str | None) -> list[SessionRow]:
    """Where somebody is signed in; `here` is the key of the session that asks."""
    return [_session_row(row, here) for row in queries.sessions_of(person)]


def _session_row(row: Session, here: str | None) -> SessionRow:
    device = row.device or "A browser"
    return SessionRow(row.session_key[:8], device, row.tablet, row.began_at, row.seen_at, row.session_key == here)
