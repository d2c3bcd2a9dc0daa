"""The coat on a screen, and the layer that comes next."""

from frimble.coatings.models import Coat
from frimble.core.lifecycle import State

# A coat is on the mesh until its cycle closes.
_ON_IT = {"event__cycle__closed_at__isnull": True, "event__replaced_by__isnull": True}


def current_coat(screen) -> Coat | None:
    """The last layer on the mesh now, or None when nothing is on it; looked up once for a screen as it was read."""
    known = getattr(screen, "_coat_at", None)
    if known is None or known[0] != screen.revision:
        screen._coat_at = known = screen.revision, _last_layer(screen.installation_id)
    return known[1]


def _last_layer(installation_id) -> Coat | None:
    return (
        Coat.objects.filter(**_ON_IT, event__cycle__installation=installation_id)
        .select_related("batch__emulsion", "coater", "event__installation__mesh", "event__by")
        .prefetch_related("batch__records")
        .order_by("-event__at", "-pk")
        .first()
    )


def next_layer(screen) -> int:
    """The number of the layer that is laid next."""
    return screen.layers_done + 1 if screen.state == State.PART_COATED else 1


def coats_of(screen) -> list[Coat]:
    """Every layer on a screen's mesh now, the last one first."""
    on_it = Coat.objects.filter(**_ON_IT, event__cycle__installation=screen.installation_id)
    return list(on_it.select_related("batch", "event__by").prefetch_related("defects").order_by("-event__at", "-pk"))
