"""What the made-up people found of stencils that failed their inspection."""

import random
from collections.abc import Sequence
from datetime import timedelta

from frimble.core.stencil.diagnosis.causes import CAUSES
from frimble.core.stencil.diagnosis.codes import Cause
from frimble.core.stencil.diagnosis.model import diagnose
from frimble.people.models import Person
from frimble.screens.models import ScreenEvent
from frimble.stencils.models import ConfirmedCause

# What goes wrong in this shop, by how often; of some nobody found it out.
_FOUND = {
    Cause.UNDER_EXPOSED: 5,
    Cause.NOT_DRY: 3,
    Cause.FILM_LEAKS: 2,
    Cause.DEGREASER_LEFT: 2,
    Cause.COATED_LONG_AGO: 1,
    None: 2,
}


def lay_out_losses(hands: Sequence[Person], seed: int) -> None:
    """A cause for most of the failed stencils, confirmed minutes after they failed."""
    rng = random.Random(f"{seed} causes")
    failed = ScreenEvent.objects.filter(kind="inspect", facts__passed=False).order_by("at")
    for event in failed:
        cause = rng.choices(list(_FOUND), list(_FOUND.values()))[0]
        if cause is None:
            continue
        seen = CAUSES[cause].seen
        symptom = rng.choices(list(seen), list(seen.values()))[0]
        ranked = {ranked.cause: ranked.probability for ranked in diagnose([symptom], {}).causes}
        ConfirmedCause.objects.create(
            installation_id=event.installation_id,
            cycle_id=event.cycle_id,
            cause=cause,
            symptoms=[symptom],
            facts={},
            probability=ranked[cause],
            at=event.at + timedelta(minutes=5),
            by=rng.choice(hands),
        )
