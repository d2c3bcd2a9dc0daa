"""What a screen is usually coated with here: as the last one on such mesh was, where that still can be had."""

from dataclasses import dataclass

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
    laid = Coat.objects.filter(event__replaced_by=None).select_related(
        "batch", "event__by", "event__installation__mesh"
    )
    last = laid.filter(event__installation__mesh=screen.installation.mesh_id).order_by("-pk").first()
    if last is None:
        return None
    if last.layer > 1:
        last = laid.filter(event__cycle=last.event.cycle_id).earliest("layer")
    batch = Batch.objects.in_use().filter(pk=last.batch_id).first()
    return UsualCoat(last.formula, batch, last.coater_id, last.fill, last)
