"""Hardening a finished stencil."""

from django.db import transaction

from frimble.core.conclusions import InvalidInput, RuleViolation, require_between
from frimble.core.lifecycle import State
from frimble.core.stencil.hardening import HARDENERS, Hardener
from frimble.core.units import show_seconds
from frimble.people import moments
from frimble.screens import ledger
from frimble.screens.models import Screen

MAY_BE = (State.READY, State.STRIPPED)


@transaction.atomic
def harden(code, person, *, how: str, seconds=None, for_good=False, **kwargs):
    """A dry stencil is hardened by light or by a chemical.

    Args:
        seconds: of the light. for_good: somebody says that they know that a chemical may never come off.

    Raises:
        RuleViolation: no inspected stencil is on it, or it is still wet. InvalidInput: no way, or times that cannot be.
    """
    screen = Screen.objects.get(frame__code=code)
    if screen.state not in MAY_BE:
        raise RuleViolation("Only a stencil that was inspected and has no ink in it is hardened.")
    if screen.wet_until and screen.wet_until > moments.now():
        raise RuleViolation("It is still held as wet: what is damp does not harden. Dry it first.")
    if how not in list(Hardener):
        raise InvalidInput("Say how it was hardened.", "how")
    if how == Hardener.CHEMICAL and not for_good:
        raise InvalidInput("A chemical hardener may never come off this mesh: say that you know it.", "for_good")
    facts = {"how": how}
    if how == Hardener.LIGHT:
        if seconds is None:
            raise InvalidInput("Type how long it had light.", "seconds")
        facts["seconds"] = require_between(seconds, 1, 36000, "The light, in s,", "seconds")
    lit = f", {show_seconds(seconds)}" if how == Hardener.LIGHT else ""
    return ledger.record(
        code, "harden", person, facts=facts, summary=f"Hardened by {HARDENERS[Hardener(how)]}{lit}", **kwargs
    )
