"""The films whose scans a stencil can be held against."""

from frimble.exposures.models import Exposure
from frimble.films.models import ScanCheck

_OFFERED = 40


def scans_for(screen):
    """The newest finished scan of each film: that of the stencil's own exposure first."""
    done = ScanCheck.objects.filter(state=ScanCheck.State.DONE).select_related("film").order_by("-at", "-pk")
    newest: dict[int, ScanCheck] = {}
    for check in done[: 5 * _OFFERED]:
        newest.setdefault(check.film_id, check)
    own = own_film(screen)
    return sorted(newest.values(), key=lambda c: c.film_id != own)[:_OFFERED]


def own_film(screen) -> int | None:
    """The film that the stencil on this screen was exposed through."""
    given = Exposure.objects.filter(event__cycle__installation=screen.installation_id, event__cycle__closed_at=None)
    return given.order_by("-pk").values_list("film_id", flat=True).first()
