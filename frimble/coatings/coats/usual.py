"""What a screen is usually coated with here: as the last one on such mesh was, where that still can be had."""

from dataclasses import dataclass

from django.db.models import Subquery

from frimble.coatings.models import Batch, Coat


@dataclass(frozen=True)
class UsualCoat:
    """What the form begins with, and the coat that it is taken from."""

    formula: str
    batch: Batch | None
    coater_id: int | None
    fill: str
    last: Coat

    @property
    def words(self) -> str:
        """Where it comes from, for the page."""
        gone = "" if self.batch else f"; {self.last.batch.code} is no longer open"
        return f"As {self.last.event.by} last coated {self.last.event.installation.mesh.label}{gone}."


def usual_coat(screen) -> UsualCoat | None:
    """As the newest coat on the same mesh was begun; None where none was. Looked up once for a screen as read."""
    if not hasattr(screen, "_usual_coat"):
        screen._usual_coat = _look_up(screen)
    return screen._usual_coat


def _look_up(screen) -> UsualCoat | None:
    laid = Coat.objects.filter(event__replaced_by=None)
    newest = laid.filter(event__installation__mesh=screen.installation.mesh_id).order_by("-pk")
    of_its_cycle = laid.filter(event__cycle=Subquery(newest.values("event__cycle")[:1]))
    last = of_its_cycle.select_related("batch", "event__by", "event__installation__mesh").order_by("layer").first()
    if last is None:
        return None
    return UsualCoat(last.formula, None if last.batch.finished_at else last.batch, last.coater_id, last.fill, last)
