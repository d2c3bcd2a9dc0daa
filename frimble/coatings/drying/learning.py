"""How long coats dry here: common practice, and what the shop's own damp and dry looks have taught."""

import math
from collections.abc import Mapping

from frimble.coatings.models import Coat, DryCheck
from frimble.core.coating import drying
from frimble.core.coating.formula import parse_formula
from frimble.core.coating.wet import FILLS
from frimble.core.conclusions import Conclusion
from frimble.core.statistics import learning
from frimble.core.verdicts import Dryness
from frimble.people.cached import CachedValue

_LEARNED_FROM = 300
CACHED = CachedValue("coat-drying", 600)


def belief(settings: Mapping) -> learning.Belief:
    """What is known of drying in this shop, from the newest few hundred looks; kept until there is another."""
    return CACHED.get(lambda: _learned(settings), settings)


def _learned(settings: Mapping) -> learning.Belief:
    looks = DryCheck.objects.filter(
        event__replaced_by__isnull=True, verdict__in=(Dryness.DRY, Dryness.DAMP)
    ).select_related("coat__batch__emulsion", "coat__event__installation__mesh")
    bounds: dict[int, tuple[Coat, float, float]] = {}
    for look in looks.order_by("-pk")[:_LEARNED_FROM]:
        coat, damp, dry = bounds.get(look.coat_id, (look.coat, 0.0, math.inf))
        if look.verdict == Dryness.DAMP:
            damp = max(damp, look.elapsed_min)
        else:
            dry = min(dry, _dry_within(look, settings))
        bounds[look.coat_id] = (coat, damp, dry)
    return drying.learn((_seen(*bound, settings) for bound in bounds.values()), settings)


def _dry_within(look: DryCheck, settings: Mapping) -> float:
    """Minutes within which the coat was dry through: a fingertip feels the surface, the inside follows."""
    later = drying.dry_to_touch(look.elapsed_min, settings) if look.method == "touch" else 0.0
    return look.elapsed_min + later


def _seen(coat: Coat, damp_min: float, dry_min: float, settings) -> drying.DryingObservation:
    """A damp look after a dry one was a slip of the hand: it counts for nothing."""
    return drying.DryingObservation(
        facts_of(coat, coat.air, settings), damp_min if damp_min < dry_min else 0.0, dry_min
    )


def facts_of(coat: Coat, air: drying.Air, settings) -> drying.DryFacts:
    """What the drying of a coat that was laid rests on, in this air."""
    mesh = coat.event.installation.mesh.geometry(settings)
    formula = parse_formula(coat.formula, settings)
    solids, fill = coat.batch.emulsion.solids, FILLS.get(coat.fill)
    return drying.layer_facts(formula, coat.layer, mesh, solids, air, settings, fill)


def expected(mesh, formula, layer, emulsion, air: drying.Air, settings, known=None, fill="") -> Conclusion:
    """Drying time of one layer that is still to be laid, with a coater filled so far."""
    solids, share = emulsion.solids, FILLS.get(fill)
    facts = drying.layer_facts(formula, layer, mesh.geometry(settings), solids, air, settings, share)
    return drying.drying_minutes(facts, known or belief(settings), settings)


def expected_of(coat: Coat, air: drying.Air, settings, known=None) -> Conclusion:
    """Drying time of a coat that was laid, had it this air from the start."""
    return drying.drying_minutes(facts_of(coat, air, settings), known or belief(settings), settings)
