"""Control strips of production screens: recorded at inspection; `lightroom` charts them."""

from django.utils import timezone

from frimble.coatings.coats.queries import current_coat
from frimble.core.conclusions import require_between
from frimble.core.exposure.steptest import greyscale as grey_scale
from frimble.exposures.models import ControlStrip, Exposure


def record_strip(screen, step: float, person) -> ControlStrip | None:
    """Record the control strip of a screen's newest exposure; None where it had no light in this cycle.

    Raises:
        InvalidInput: no such step.
    """
    require_between(step, 1, grey_scale.STEPS, "The control strip's step", "strip_step")
    exposure = (
        Exposure.objects.filter(event__installation=screen.installation, event__cycle__closed_at__isnull=True)
        .order_by("-event__at")
        .first()
    )
    coat = current_coat(screen)
    if exposure is None or coat is None:
        return None
    return ControlStrip.objects.create(
        exposure=exposure, lamp=exposure.lamp, emulsion=coat.batch.emulsion, step=step, by=person, at=timezone.now()
    )
