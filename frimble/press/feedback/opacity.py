"""What the press's verdicts on opacity have taught about the ink that covers."""

from collections.abc import Iterator

from frimble.coatings.models import Coat
from frimble.coatings.thickness import queries as thickness_queries
from frimble.core.coating.formula import parse_formula
from frimble.core.coating.plan import wet_deposit
from frimble.core.conclusions import InvalidInput
from frimble.core.press import opacity as rules
from frimble.core.press.feedback import Opacity
from frimble.people import settings as house_settings
from frimble.people.cached import CachedValue
from frimble.press.feedback.models import PressFeedback

_LEARNED_FROM = 200
CACHED = CachedValue("press-opacity", 600)


def covers(deposit_um: float) -> str:
    """How many passes of this deposit cover, in a sentence with what it rests on."""
    settings = house_settings.current()
    belief = CACHED.get(lambda: rules.learn(_printed(settings), settings), settings)
    found = rules.passes_to_cover(deposit_um, belief)
    return f"{found.reason} Rests on {found.rests_on}."


def _printed(settings) -> Iterator[rules.PrintedDeposit]:
    """Deposit, passes and verdict of each run that was spoken of with its passes; the newest of a run counts."""
    said = PressFeedback.objects.exclude(opacity="").filter(passes__gt=0, cycle__isnull=False)
    newest: dict[int, PressFeedback] = {}
    for feedback in said.order_by("-at", "-pk")[:_LEARNED_FROM]:
        newest.setdefault(feedback.visit_id or -feedback.pk, feedback)
    coats = Coat.objects.filter(event__cycle__in={f.cycle_id for f in newest.values()}, event__replaced_by=None)
    coats = coats.select_related("event__installation__mesh", "batch__emulsion").order_by("pk")
    by_cycle = {coat.event.cycle_id: coat for coat in coats}
    for feedback in newest.values():
        coat = by_cycle.get(feedback.cycle_id)
        deposit = _deposit_um(coat, settings) if coat else None
        if deposit:
            yield rules.PrintedDeposit(deposit, feedback.passes, feedback.opacity == Opacity.OPAQUE)


def _deposit_um(coat: Coat, settings) -> float | None:
    mesh = coat.event.installation.mesh
    try:
        formula = parse_formula(coat.formula, settings)
        eom = thickness_queries.expected(mesh, formula, coat.batch.emulsion, settings, fill=coat.fill)
    except InvalidInput:
        return None
    return wet_deposit(mesh.geometry(settings), eom).known
