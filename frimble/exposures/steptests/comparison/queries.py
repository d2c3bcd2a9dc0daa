"""Two step tests set against each other: same screen, same light, one difference."""

from dataclasses import dataclass

from django.db.models import Exists, OuterRef, Q

from frimble.core.conclusions import Conclusion, InvalidInput, RuleViolation
from frimble.core.exposure.steptest import comparison
from frimble.core.stencil.wash import against_protocol
from frimble.core.verdicts import NoVerdict
from frimble.exposures.chart import queries as chart_queries
from frimble.exposures.models import StepTest, TestReading
from frimble.exposures.steptests import wash as wash_protocol
from frimble.people import settings as house_settings

_OFFERED = 50
_SHARED = ("mesh", "emulsion", "lamp", "film_process")


@dataclass(frozen=True)
class PairComparison:
    """What two tests say of each other.

    Attributes:
        alike: (what, words) in which they are alike; differ: (what, words of one, of the other).
        factor: on the light for full cure, or why there is none. headroom: of the windows' widths, or None.
        span_s: shortest and longest time that both windows' pictures must hold.
    """

    one: comparison.Side
    other: comparison.Side
    alike: tuple[tuple[str, str], ...]
    differ: tuple[tuple[str, str, str], ...]
    factor: Conclusion
    headroom: Conclusion | None
    span_s: tuple[float, float]


def comparable(named=()) -> list[StepTest]:
    """Tests that somebody has read, with what they are called by: the newest, and those named, whatever their age."""
    has_reading = Exists(TestReading.objects.filter(step_test=OuterRef("pk")))
    read = StepTest.objects.filter(has_reading, status=StepTest.Status.EXPOSED).order_by("-planned_at", "-pk")
    chosen = Q(pk__in=read.values("pk")[:_OFFERED]) | Q(pk__in=[pk for pk in named if pk.isdecimal()])
    # Fifty tests rest on a few meshes, lamps and emulsions: each of them is read once.
    offered = read.filter(chosen).select_related("screen__frame").prefetch_related(*_SHARED)
    return list(offered.only("formula", *_SHARED, "screen__frame__code"))


def compare(one: StepTest, other: StepTest) -> PairComparison:
    """Set two read tests against each other.

    Raises:
        InvalidInput: they are the same test.
    """
    if one == other:
        raise InvalidInput("Choose two different tests.", "other")
    whole = StepTest.objects.select_related("screen__frame", "batch", *_SHARED).in_bulk([one.pk, other.pk])
    one, other = whole[one.pk], whole[other.pk]
    washed = [_washed(t) for t in (one, other)]
    made = [_made_with(t, w) for t, w in zip((one, other), washed, strict=True)]
    if all(washed) and not against_protocol(*washed, house_settings.current()):
        made[1]["wash"] = made[0]["wash"]
    fits = chart_queries.fits_of((one, other))
    a, b = (
        comparison.Side(str(t), m, fit, t.screen.frame.code) for t, m, fit in zip((one, other), made, fits, strict=True)
    )
    differ = comparison.differences(a, b)
    try:
        factor = comparison.compare(a, b, house_settings.current())
    except RuleViolation as refusal:
        factor = Conclusion(None, "×", NoVerdict.NOT_KNOWN, refusal.reason, "measured here")
    times = [t for t in (*one.times_s, *other.times_s) if t is not None]
    return PairComparison(
        a,
        b,
        tuple((k, w) for k, w in a.made_with.items() if k not in differ),
        tuple((k, a.made_with[k], b.made_with[k]) for k in differ),
        factor,
        comparison.headroom(a, b),
        (min(times) / 1.3, max(times) * 1.3),
    )


def _made_with(test: StepTest, washed) -> dict[str, str]:
    """Everything a time rests on, in words, so that what is not alike can be named."""
    return {
        "mesh": str(test.mesh),
        "coat formula": test.formula,
        "emulsion": test.emulsion.name,
        "batch": test.batch.code,
        "lamp": test.lamp.name,
        "lamp distance": f"{test.lamp_distance_mm:g} mm" if test.lamp_distance_mm else "none",
        "film process": test.film_process.name,
        "kind of test": test.get_kind_display(),
        "wash": f"soak {washed[0]:g} s, rinse {washed[1]:g} s" if washed else "not known",
    }


def _washed(test: StepTest) -> tuple[float, float] | None:
    """(soak, rinse), s; None where nobody wrote it down."""
    washes = wash_protocol.washes_of(test)
    return (sum(w.soak_s for w in washes), sum(w.rinse_s for w in washes)) if washes else None
