"""What stops an exposure: an image on a ghost or damage, an emulsion that does not stand the ink, an unclean mesh."""

from collections.abc import Iterator

from frimble.coatings.coats import stops as coat_stops
from frimble.core.conclusions import RuleViolation
from frimble.core.film.placement import Art, PlacedBox, place_on_frame
from frimble.core.mesh.blemishes import SPOILS, in_the_way
from frimble.screens.blemishes import queries as blemish_queries


def refuse_stopped(screen, coat, film, person, override_reason, keeps_off: bool) -> None:
    """Refuse light that would be lost on this screen.

    Args:
        keeps_off: somebody says that the image keeps off the marks; asked where no place is kept with the film.

    Raises:
        RuleViolation: what was recorded speaks against it; a lead may override with a reason, which is kept.
    """
    if override_reason.strip() and person.is_lead:
        return
    for reason in stops(screen, coat, film):
        raise RuleViolation(reason, overridable=True)
    if not keeps_off and _place(screen, film) is None and any_prints(blemish_queries.standing(screen.installation)):
        raise RuleViolation(
            "This mesh carries marks that print, and where the film will lie is not on record. Lay it so that it keeps off "
            "them and say so, or place it first.",
            field="keeps_off",
        )


def stops(screen, coat, film) -> Iterator[str]:
    """Everything that stops the light; what a lead let pass when the coat was laid is settled."""
    settled = bool(coat.event.override_reason)
    if not settled:
        yield from (stop.reason for stop in coat_stops.of_the_mesh(screen))
    ink = film.ink if film else ""
    if not settled or (ink and ink != coat.ink):
        yield from (s.reason for s in coat_stops.of_the_emulsion(coat.batch.emulsion, screen.mesh, ink or coat.ink))
    if box := _place(screen, film):
        yield from in_the_way([b.as_core() for b in blemish_queries.standing(screen.installation)], [box])


def any_prints(marks) -> bool:
    """Whether one of these marks spoils an image that is laid on it."""
    return any(m.kind in SPOILS for m in marks)


def _place(screen, film) -> PlacedBox | None:
    if film is None or film.centre_mm is None:
        return None
    art = Art(str(film), film.width_mm, film.height_mm, centre_mm=film.centre_mm, turned=film.turned)
    return place_on_frame(art, (screen.frame.outer_width_mm, screen.frame.outer_height_mm))
