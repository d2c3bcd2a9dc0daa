"""What the shop found to be the causes of what went wrong."""

from collections import Counter

from frimble.core.stencil.diagnosis.codes import Cause
from frimble.people.cached import CachedValue
from frimble.stencils.diagnosis.models import ConfirmedCause

_COUNTED = 2000
_SHOWN = 20
CACHED = CachedValue("confirmed-causes", 3600)


def confirmed_counts() -> Counter[Cause]:
    """How often each cause was confirmed: the newest of each cycle counts, of the last few thousand."""
    return CACHED.get(_counted)


def _counted() -> Counter[Cause]:
    newest = ConfirmedCause.objects.values_list("cycle_id", "pk", "cause")[:_COUNTED]
    by_cycle: dict[object, str] = {}
    for cycle, pk, cause in newest:
        by_cycle.setdefault(cycle or f"mesh {pk}", cause)
    return Counter(Cause(cause) for cause in by_cycle.values() if cause in list(Cause))


def confirmed_on(installation) -> list[ConfirmedCause]:
    """What was confirmed on a mesh, newest first."""
    return list(installation.confirmed_causes.select_related("by", "cycle")[:_SHOWN])
