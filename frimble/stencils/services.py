"""Washing out and inspecting."""

from django.db import transaction

from frimble.core.conclusions import require_between
from frimble.core.verdicts import Inspection
from frimble.exposures.strips import services as strip_services
from frimble.people import moments
from frimble.people import settings as house_settings
from frimble.screens import ledger
from frimble.screens.models import Screen
from frimble.stencils.models import Washout


@transaction.atomic
def wash(code, person, *, soak_s, rinse_s, **kwargs):
    """Soaked and rinsed; the stencil now dries."""
    settings = house_settings.current()
    require_between(soak_s, 0, settings["wash.longest_s"], "The soak, in s,", "soak_s")
    require_between(rinse_s, 1, settings["wash.longest_s"], "The rinse, in s,", "rinse_s")
    minutes = settings["wash.dry_min"]
    event = ledger.record(
        code,
        "wash",
        person,
        facts=ledger.wetted({"soak_s": soak_s, "rinse_s": rinse_s}, minutes, moments.now()),
        summary=f"Washed out: soak {soak_s:g} s, rinse {rinse_s:g} s",
        **kwargs,
    )
    Washout.objects.create(event=event, soak_s=soak_s, rinse_s=rinse_s)
    return event


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
