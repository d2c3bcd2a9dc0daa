"""How a step test is to be washed out, and how it was."""

from typing import NamedTuple

from frimble.core.stencil.wash import against_protocol
from frimble.exposures.models import StepTest
from frimble.people import settings as house_settings
from frimble.screens.models import ScreenEvent


class Wash(NamedTuple):
    """One washing out as it was recorded, s."""

    soak_s: float
    rinse_s: float

    def __str__(self) -> str:
        return f"soak {self.soak_s:g} s, rinse {self.rinse_s:g} s"


def protocol(mesh, formula: str, emulsion, settings) -> dict:
    """Soak and rinse, s, of a new test: as its last fellow's, so that they can be compared; else the house's."""
    fellow = (
        StepTest.objects.filter(mesh=mesh, formula=formula, emulsion=emulsion, soak_s__isnull=False)
        .order_by("-planned_at")
        .first()
    )
    if fellow:
        return {"soak_s": fellow.soak_s, "rinse_s": fellow.rinse_s}
    return {"soak_s": settings["wash.soak_s"], "rinse_s": settings["wash.rinse_s"]}


def waiting_test(screen) -> StepTest | None:
    """The exposed step test that this screen carries in its present cycle; None when it carries none."""
    event = _exposed(screen.installation.frame_id).filter(cycle__closed_at__isnull=True).order_by("-at").first()
    return StepTest.objects.filter(pk=event.facts["test"]).first() if event else None


def _exposed(frame_id: int):
    return ScreenEvent.objects.filter(installation__frame_id=frame_id, kind="expose", facts__test__isnull=False)


def washes_of(test: StepTest) -> list[Wash]:
    """How the test's screen was washed out after its light; the first wash is the test's own."""
    exposed = _exposed(test.screen.frame_id).filter(facts__test=test.pk).values("cycle_id")
    washed = ScreenEvent.objects.standing().filter(cycle_id__in=exposed, kind="wash").order_by("at", "pk")
    return [Wash(facts["soak_s"], facts["rinse_s"]) for facts in washed.values_list("facts", flat=True)]


def kept(test: StepTest, washes) -> str:
    """What a wash that was not as planned did to the reading; empty where it was kept or nothing was planned."""
    if test.soak_s is None or not washes:
        return ""
    washed = sum(w.soak_s for w in washes), sum(w.rinse_s for w in washes)
    return against_protocol(washed, (test.soak_s, test.rinse_s), house_settings.current())
