"""People added, changed and let in; their passwords, codes and sessions."""

from datetime import timedelta

from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import IntegrityError, transaction
from django.utils import timezone

from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.people.accounts import codes
from frimble.people.door.memory import MEMORY
from frimble.people.models import Person, Session, SignInCode

CODE_LASTS = timedelta(days=3)
_NOT_A_CODE = "This code is not known here, was used, or has ended. The lead makes a new one."
# Digits that somebody at the next sink would try first.
_EASY_DIGITS = frozenset({"1234", "4321", "0123", "2580", "1212"} | {str(d) * 4 for d in range(10)})


@transaction.atomic
def add(username: str, shown_name: str, role: str, units: str) -> Person:
    """Somebody new, who cannot sign in until a code is handed over.

    Raises:
        InvalidInput: somebody is called that already.
    """
    username = username.strip().lower()
    if Person.objects.filter(username__iexact=username).exists():
        raise InvalidInput(f"Somebody signs in as {username} already.", "username")
    person = Person(username=username, first_name=shown_name.strip(), role=role, units=units)
    person.set_unusable_password()
    person.save()
    return person


def first_lead(username: str, shown_name: str, password: str, units: str) -> Person:
    """The one who sets the room up.

    Raises:
        InvalidInput: a password that is too easy. RuleViolation: somebody is there already.
    """
    with transaction.atomic():
        if Person.objects.exists():
            raise RuleViolation("This room has its people already: sign in.")
        person = add(username, shown_name, Person.Role.LEAD, units)
        return set_password(person, password)


@transaction.atomic
def change(person: Person, shown_name: str, role: str) -> Person:
    """Another name on pages, another role.

    Raises:
        RuleViolation: the room would be left without a lead.
    """
    if role != Person.Role.LEAD:
        _keep_a_lead(person, "role")
    person.first_name, person.role = shown_name.strip(), role
    person.save(update_fields=["first_name", "role"])
    return person


@transaction.atomic
def leave(person: Person) -> None:
    """They sign in no more; what they recorded stays under their name.

    Raises:
        RuleViolation: the room would be left without a lead.
    """
    _keep_a_lead(person, "")
    person.is_active, person.person_code = False, None
    person.save(update_fields=["is_active", "person_code"])
    SignInCode.objects.filter(person=person).delete()
    sign_out_everywhere(person)


def come_back(person: Person) -> None:
    """They may sign in again, with the password they had or a new code."""
    person.is_active = True
    person.save(update_fields=["is_active"])


def _keep_a_lead(person: Person, field: str) -> None:
    others = Person.objects.filter(role=Person.Role.LEAD, is_active=True).exclude(pk=person.pk)
    if person.role == Person.Role.LEAD and person.is_active and not others.exists():
        raise RuleViolation(f"{person} is the only lead here: make somebody else lead first.", field=field)


@transaction.atomic
def make_code(person: Person, by: Person | None) -> str:
    """A new one-time code for somebody, in place of an earlier one; only its digest is kept.

    Raises:
        RuleViolation: they have left.
    """
    if not person.is_active:
        raise RuleViolation(f"{person} has left: let them come back first.")
    code, now = codes.new_code(), timezone.now()
    SignInCode.objects.filter(person=person).delete()
    SignInCode.objects.create(
        person=person, digest=codes.digest(code), made_at=now, made_by=by, ends_at=now + CODE_LASTS
    )
    return code


def find_code(code: str) -> SignInCode:
    """The code as typed, if it is still good.

    Raises:
        InvalidInput: it is not.
    """
    row = SignInCode.objects.select_related("person").filter(digest=codes.digest(code)).first()
    if row is None or row.ends_at < timezone.now() or not row.person.is_active:
        raise InvalidInput(_NOT_A_CODE, "code")
    return row


@transaction.atomic
def use_code(code: str, password: str) -> Person:
    """Set the own password by a one-time code, which is good no more.

    Raises:
        InvalidInput: the code is not good, or the password is too easy.
    """
    person = find_code(code).person
    set_password(person, password)
    # Two at once: only one takes it away.
    if not SignInCode.objects.filter(person=person, digest=codes.digest(code)).delete()[0]:
        raise InvalidInput(_NOT_A_CODE, "code")
    return person


@transaction.atomic
def set_password(person: Person, password: str) -> Person:
    """A password of the person's own; all their other sessions end with it.

    Raises:
        InvalidInput: it is too short, too common, or too much like the name.
    """
    try:
        validate_password(password, person)
    except ValidationError as error:
        raise InvalidInput(" ".join(error.messages), "password") from None
    person.set_password(password)
    person.save(update_fields=["password"])
    sign_out_everywhere(person)
    return person


def change_password(person: Person, old: str, new: str) -> Person:
    """Another password for somebody who knows the present one.

    Raises:
        InvalidInput: the present one is wrong, or the new one too easy.
    """
    if not person.check_password(old):
        raise InvalidInput("This is not your present password.", "old")
    return set_password(person, new)


def set_person_code(person: Person, digits: str) -> None:
    """Four digits by which somebody signs a record at a shared tablet; empty takes them back.

    Raises:
        InvalidInput: not four digits, too easy, or not free.
    """
    digits = digits.strip()
    if digits and (len(digits) != 4 or not (digits.isascii() and digits.isdigit())):
        raise InvalidInput("Four digits, such as 3 8 0 6.", "digits")
    if digits in _EASY_DIGITS:
        raise InvalidInput("Whoever stands beside you would try these first. Choose others.", "digits")
    person.person_code = codes.person_digest(digits) if digits else None
    try:
        with transaction.atomic():
            person.save(update_fields=["person_code"])
    except IntegrityError:
        person.person_code = None
        raise InvalidInput("These four cannot be had. Choose others.", "digits") from None


def sign_out_everywhere(person: Person, but: str | None = None) -> int:
    """End all sessions of somebody, but the one with this key; how many."""
    return _end(Session.objects.filter(person=person).exclude(session_key=but))


def _end(rows) -> int:
    """End sessions, and those held in memory with them: whose they are, only the sessions themselves say."""
    MEMORY.clear()
    return rows.delete()[0]


# Fewer characters do not tell one session from another; a key has no more.
_KEY_START = (6, 40)


def end_session(person: Person, key_start: str) -> None:
    """End one of somebody's sessions, named by the start of its key as a page shows it.

    Raises:
        InvalidInput: they have no such session, or none can be told from the start.
    """
    rows = Session.objects.filter(person=person, session_key__startswith=key_start)
    if not _KEY_START[0] <= len(key_start) <= _KEY_START[1] or rows.count() != 1:
        raise InvalidInput("That session has ended already.")
    _end(rows)
