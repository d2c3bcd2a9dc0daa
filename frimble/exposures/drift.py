"""Control strips of production screens: recorded at inspection, charted for each lamp and emulsion."""

from django.utils import timezone

from frimble.coatings.actions import current_coat
from frimble.coatings.models import Emulsion
from frimble.core.conclusion import require_between
from frimble.core.exposure import drift, greyscale
from frimble.exposures.models import ControlStrip, Exposure, Lamp

_SHOWN = 60


def record_strip(screen, step: float, person) -> ControlStrip | None:
    """Write down the control strip of a screen's newest exposure; None where it had no light in this cycle.

    Raises:
        OutOfRange: no such step.
    """
    require_between(step, 1, greyscale.STEPS, "The control strip's step", "strip_step")
    exposure = (
        Exposure.objects.filter(event__meshing=screen.meshing, event__cycle__closed_at__isnull=True)
        .order_by("-event__at")
        .first()
    )
    coat = current_coat(screen)
    if exposure is None or coat is None:
        return None
    return ControlStrip.objects.create(
        exposure=exposure, lamp=exposure.lamp, emulsion=coat.batch.emulsion, step=step, by=person, at=timezone.now()
    )


def _strips_of(lamp_id: int, emulsion_id: int, since=None) -> list[ControlStrip]:
    """Strips read under a lamp on an emulsion since a moment, oldest first, the newest of them."""
    found = ControlStrip.objects.filter(lamp_id=lamp_id, emulsion_id=emulsion_id)
    if since:
        found = found.filter(at__gt=since)
    return list(found.select_related("exposure__event__meshing__frame").order_by("-at", "-pk")[:_SHOWN])[::-1]


def of_entry(entry, in_force) -> drift.Drift | None:
    """What the strips say since an entry was accepted; None while there are too few."""
    strips = _strips_of(entry.lamp_id, entry.emulsion_id, entry.accepted_at)
    return drift.drift_of([s.step for s in strips], in_force["greyscale.aim"], in_force)


def of_lamp(lamp: Lamp, in_force) -> list[tuple]:
    """(emulsion, drift, labels) of each emulsion with enough strips under a lamp."""
    emulsions = Emulsion.objects.filter(pk__in=lamp.strips.values_list("emulsion", flat=True).distinct())
    told = []
    for emulsion in emulsions:
        strips = _strips_of(lamp.pk, emulsion.pk)
        found = drift.drift_of([s.step for s in strips], in_force["greyscale.aim"], in_force)
        if found:
            labels = [f"{s.exposure.event.meshing.frame.code}, {timezone.localtime(s.at):%d %b}" for s in strips]
            told.append((emulsion, found, labels))
    return told


def drifting(in_force) -> list[tuple]:
    """(lamp, emulsion, drift) of every pair whose newest strip is a signal."""
    pairs = ControlStrip.objects.order_by().values_list("lamp_id", "emulsion_id").distinct()
    found = []
    for lamp_id, emulsion_id in pairs:
        strips = _strips_of(lamp_id, emulsion_id)
        told = drift.drift_of([s.step for s in strips], in_force["greyscale.aim"], in_force)
        if told and told.signal:
            found.append((strips[-1].lamp, strips[-1].emulsion, told))
    return found
