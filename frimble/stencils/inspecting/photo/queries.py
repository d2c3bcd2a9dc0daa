"""The films whose scans a stencil can be held against."""

from frimble.exposures.models import Exposure
from frimble.films.models import ScanCheck

_OFFERED = 40


def scans_for(screen) -> tuple[list[ScanCheck], ScanCheck | None]:
    """Finished scans, the newest of each film; and which is of the film that the stencil was exposed through, if any.

    That one comes first, however old it is.
    """
    done = ScanCheck.objects.filter(state=ScanCheck.State.DONE).select_related("film").defer("result")
    done = done.order_by("-at", "-pk")
    own_film = _own_film(screen)
    own = done.filter(film=own_film).first() if own_film else None
    newest: dict[int, ScanCheck] = {own.film_id: own} if own else {}
    for check in done[: 5 * _OFFERED]:
        newest.setdefault(check.film_id, check)
    return list(newest.values())[:_OFFERED], own


def _own_film(screen) -> int | None:
    """The film that the stencil on this screen was exposed through."""
    given = Exposure.objects.filter(event__cycle__installation=screen.installation_id, event__cycle__closed_at=None)
    return given.order_by("-pk").values_list("film_id", flat=True).first()
