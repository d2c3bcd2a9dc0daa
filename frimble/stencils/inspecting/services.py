"""Inspecting a finished stencil."""

from django.db import transaction

from frimble.core.conclusions import require_between
from frimble.core.verdicts import Inspection
from frimble.exposures.strips import services as strip_services
from frimble.people import settings as house_settings
from frimble.screens import ledger
from frimble.screens.models import Screen


@transaction.atomic
def inspect(code, person, *, verdict, pinholes, strip_step=None, **kwargs):
    """Inspected against the light: passed, passed with pinholes blocked, or failed; and its control strip read."""
    if strip_step is not None:
        strip_services.record_strip(Screen.objects.for_lists().get(frame__code=code), strip_step, person)
    most = house_settings.current()["wash.most_pinholes"]
    require_between(pinholes, 0, most, "The number of pinholes", "pinholes")
    words = {Inspection.PASSES: "passed", Inspection.FAILS: "failed"}[verdict]
    blocked = {0: "", 1: ", 1 pinhole blocked"}.get(pinholes, f", {pinholes} pinholes blocked")
    return ledger.record(
        code,
        "inspect",
        person,
        facts={"passed": verdict == Inspection.PASSES, "pinholes": pinholes},
        summary=f"Inspected: {words}{blocked}",
        **kwargs,
    )
