"""The coat on a screen, and the layer that comes next."""

from frimble.coatings.models import Coat
from frimble.core.lifecycle import State


def current_coat(screen) -> Coat | None:
    """The last layer on the mesh now, or None when nothing is on it; looked up once for a screen as it was read."""
    known = getattr(screen, "_coat_at", None)
    if known is None or known[0] != screen.revision:
        screen._coat_at = known = screen.revision, _last_layer(screen.installation_id)
    return known[1]


def _last_layer(installation_id) -> Coat | None:
    return (
        Coat.objects.filter(
            event__cycle__installation=installation_id,
            event__cycle__closed_at__isnull=True,
            event__replaced_by__isnull=True,
        )
        .select_related("batch__emulsion", "coater", "event__installation__mesh", "event__by")
        .prefetch_related("batch__records")
        .order_by("-event__at", "-pk")
        .first()
    )


def next_layer(screen) -> int:
    """The number of the layer that is laid next."""
    return screen.layers_done + 1 if screen.state == State.PART_COATED else 1
