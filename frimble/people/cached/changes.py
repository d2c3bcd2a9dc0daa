"""The state of the database that a kept value was worked out from, known to every process by a sum of random tokens."""

import random
import threading

from django.core.signals import request_finished, request_started
from django.db.models import Count, Sum

from frimble.people.cached.models import Change
from frimble.people.cached.prepared import Prepared

# Something was written past all services, as a whole shop's package is.
EVERYTHING = "everything"
# Older changes go: what is left tells one state from another as well.
_KEPT = 500
_STATES = Prepared(lambda: Change.objects.order_by().values_list("value").annotate(Count("pk"), total=Sum("token")))
_read = threading.local()
_rng = random.SystemRandom()


def record(value: str) -> None:
    """What the kept value of this name rests on was written; seen by others when the transaction is committed."""
    change = Change.objects.create(value=value, token=_rng.getrandbits(30))
    if change.pk % _KEPT == 0:
        Change.objects.filter(pk__lte=change.pk - _KEPT).delete()
    _read.states = None


def state(value: str) -> tuple[tuple[int, int], ...]:
    """What was changed so far under a name and of everything, each as (number, sum of tokens); read once a request."""
    states = getattr(_read, "states", None)
    if states is None:
        states = {name: (number, total) for name, number, total in _STATES.rows()}
        _read.states = states if getattr(_read, "in_request", False) else None
    return tuple(states.get(name, (0, 0)) for name in (value, EVERYTHING))


def begin_request(**kwargs) -> None:
    """From here on the states are read once."""
    _read.in_request, _read.states = True, None


def end_request(**kwargs) -> None:
    """From here on they are read each time: nobody says when what is done ends."""
    _read.in_request, _read.states = False, None


request_started.connect(begin_request, dispatch_uid="changes, begin")
request_finished.connect(end_request, dispatch_uid="changes, end")
