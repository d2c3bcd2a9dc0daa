"""One-time codes and the four digits of a shared tablet: made, read as typed, and known again by their digests."""

import hmac
import secrets

from django.utils.crypto import salted_hmac

# Without letters and digits that are taken for one another.
_LETTERS = "ABCDEFGHJKMNPQRSTUVWXYZ23456789"
_GROUPS, _IN_GROUP = 4, 4


def new_code() -> str:
    """Four groups of four letters and digits, some 79 bits."""
    groups = ("".join(secrets.choice(_LETTERS) for _ in range(_IN_GROUP)) for _ in range(_GROUPS))
    return "-".join(groups)


def digest(code: str) -> str:
    """What is kept of a code: small letters, blanks and dashes make no difference."""
    return _digest("sign-in code", "".join(c for c in code.upper() if c in _LETTERS))


def person_digest(digits: str) -> str:
    """What is kept of a person's four digits. So few are found by trying; the server's key keeps that to its own pages."""
    return _digest("person code", digits.strip())


def matches(code: str, kept: str) -> bool:
    """Whether a typed code is the one whose digest is kept, in a time that tells nothing."""
    return hmac.compare_digest(digest(code), kept)


def _digest(purpose: str, text: str) -> str:
    return salted_hmac(f"frimble.people.{purpose}", text, algorithm="sha256").hexdigest()
