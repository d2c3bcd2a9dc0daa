"""How long stencils rinse open here: common practice, and what the shop's own washes have taught."""

from collections.abc import Iterator

from frimble.coatings.models import Coat
from frimble.core.coating.formula import parse_formula
from frimble.core.conclusions import Conclusion, InvalidInput
from frimble.core.stencil import rinse
from frimble.exposures.models import Exposure
from frimble.people.cached import CachedValue
from frimble.screens.models import ScreenEvent
from frimble.stencils.washing.models import Washout

_LEARNED_FROM = 300
CACHED = CachedValue("stencil-rinse", 600)


def model(settings) -> rinse.RinseModel:
    """What is known of rinsing in this shop, from the newest few hundred washes; kept until there is another."""
    return CACHED.get(lambda: rinse.learn(_washed(settings), settings), settings)


def _washed(settings) -> Iterator[tuple[rinse.RinseFacts, float]]:
    """Facts and rinse, s, of washes that came out well; a step test is rinsed by plan and teaches nothing."""
    washes = Washout.objects.filter(event__replaced_by__isnull=True).order_by("-pk")[:_LEARNED_FROM]
    rinsed = dict(washes.values_list("event__cycle_id", "rinse_s"))
    looks = ScreenEvent.objects.standing().filter(cycle_id__in=rinsed, kind__in=("inspect", "expose"))
    spoiled = {cycle for cycle, facts in looks.values_list("cycle_id", "facts") if _teaches_nothing(facts)}
    dosed = {e.event.cycle_id: dose(e) for e in _exposures(rinsed)}
    for coat in _last_coats(rinsed):
        cycle = coat.event.cycle_id
        if cycle not in spoiled:
            try:
                yield facts_of(coat, dosed.get(cycle), settings), rinsed[cycle]
            except InvalidInput:
                # A formula of old that is written otherwise today.
                continue


def _teaches_nothing(facts) -> bool:
    return not facts.get("passed", True) or facts.get("is_test", False)


def _exposures(cycles):
    return Exposure.objects.filter(event__cycle_id__in=cycles).select_related("entry", "event").order_by("pk")


def _last_coats(cycles) -> list[Coat]:
    """The last layer of each cycle."""
    layers = Coat.objects.filter(event__cycle_id__in=cycles, event__replaced_by__isnull=True)
    return list(
        {c.event.cycle_id: c for c in layers.select_related("batch__emulsion", "event").order_by("pk")}.values()
    )


def dose(exposure: Exposure | None) -> float | None:
    """Light given ÷ calibrated time; None where there is no time to compare with."""
    return dose_of(exposure.given_s, exposure.entry and exposure.entry.time_s) if exposure else None


def dose_of(given_s: float, calibrated_s: float | None) -> float | None:
    """As `dose`, of times."""
    return given_s / calibrated_s if calibrated_s and given_s > 0 else None


def facts_of(coat: Coat, given: float | None, settings) -> rinse.RinseFacts:
    """What the rinse of a coated screen rests on."""
    return rinse.RinseFacts(coat.batch.emulsion.name, strokes_of(coat, settings), given)


def strokes_of(coat: Coat, settings) -> int:
    """Strokes of the whole formula that lay emulsion on."""
    layers = parse_formula(coat.formula, settings).layers
    return sum(s.strokes for layer in layers for s in layer.strokes if not s.scraping)


def usual(coat: Coat, exposure: Exposure | None, settings) -> Conclusion:
    """The rinse that this stencil can be expected to take, s."""
    return rinse.usual(facts_of(coat, dose(exposure), settings), model(settings))
