"""What is on record of a stencil that may be hardened."""

from frimble.coatings.coats.queries import current_coat
from frimble.core.emulsion.batch import STANDS
from frimble.core.stencil.hardening import StencilForRun
from frimble.exposures.models import Exposure


def stencil_for_run(screen, ink: str, impressions: int | None) -> StencilForRun:
    """The stencil with the run it is for; the coat's own ink where none is named."""
    coat = current_coat(screen)
    given = Exposure.objects.filter(event__cycle__installation=screen.installation_id, event__cycle__closed_at=None)
    light = given.filter(event__replaced_by=None).order_by("-pk").first()
    hardened = (
        screen.installation.events.standing().filter(cycle__closed_at=None, kind="harden").order_by("-pk").first()
    )
    return StencilForRun(
        ink=ink or (coat.ink if coat else ""),
        resists=STANDS[coat.batch.emulsion.resists] if coat else (),
        impressions=impressions,
        given_s=light.given_s if light else None,
        hardened=hardened.facts["how"] if hardened else "",
    )
