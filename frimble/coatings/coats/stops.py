"""What was recorded of a screen and of its coater that stops a coat; the lead may go on with a reason, which is kept."""

from collections.abc import Iterator

from frimble.coatings.coaters import queries as coater_queries
from frimble.core.conclusions import RuleViolation
from frimble.screens.models import ScreenEvent
from frimble.screens.steps.services import PRE_COAT_LOOKS

_SPOIL = {
    "haze": "Haze scatters light and prints as a ghost image: remove it, degrease again and look again.",
    "emulsion": "What is left of the last stencil prints through the next: strip it again, degrease and look again.",
    "damage": "A damaged mesh prints its damage: mark it, or take the mesh off.",
}


def refuse_stopped(screen, coater, settings, person, override_reason) -> None:
    """Refuse a coat that what was recorded speaks against.

    Raises:
        RuleViolation: it was seen not to be clean, or the coater does not suit; a lead may override with a reason.
    """
    if override_reason.strip() and person.is_lead:
        return
    for reason, field in (*_of_the_mesh(screen), *_of_the_coater(screen, coater, settings)):
        raise RuleViolation(reason, overridable=True, field=field)


def _of_the_mesh(screen) -> Iterator[tuple[str, str]]:
    """Why the last look after degreasing stops a coat, with the field it belongs to."""
    looked = ScreenEvent.objects.filter(
        installation=screen.installation, cycle=screen.open_cycle, kind="degrease", replaced_by__isnull=True
    ).last()
    look = looked.facts.get("look", "clean") if looked else "clean"
    if look in _SPOIL:
        yield f"After degreasing, {looked.by} saw {PRE_COAT_LOOKS[look]}. {_SPOIL[look]}", "formula"


def _of_the_coater(screen, coater, settings) -> Iterator[tuple[str, str]]:
    if coater is None:
        return
    if coater.retired:
        yield f"{coater} is out of use.", "coater"
    condition = coater_queries.condition_of(coater, settings)
    if not condition.usable:
        yield f"{coater}: {condition.words}", "coater"
    widest = coater_queries.inner_width_mm(screen.frame, settings) - 2 * settings["coater.clear_mm"]
    if coater.length_mm > widest:
        yield (
            f"{coater} is {coater.length_mm:.0f} mm long; between this frame's rails at most {widest:.0f} mm pass.",
            "coater",
        )
