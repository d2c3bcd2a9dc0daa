"""The films that a screen is exposed through."""

from django.db.models import Exists, OuterRef

from frimble.films.models import Film
from frimble.screens.models import Screen

_OFFERED = 100


def offered(screen: Screen) -> list[Film]:
    """Films to choose among: those of the colours the screen is held for, each `meant`, then the newest."""
    colours = screen.frame.held_for.filter(film=OuterRef("pk"))
    films = Film.objects.annotate(meant=Exists(colours)).only("name", "separation")
    return list(films.order_by("-meant", "-made_at", "-pk")[:_OFFERED])


def meant_one(films: list[Film]) -> Film | None:
    """Of what is offered, the one film that is meant; none where there are several."""
    meant = [film for film in films if film.meant]
    return meant[0] if len(meant) == 1 else None
