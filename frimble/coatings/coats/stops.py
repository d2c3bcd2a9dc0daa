"""What was recorded of a screen, a coater or an emulsion that stops a coat.

The lead may go on with a reason, which is kept.
"""

from collections.abc import Iterator
from typing import NamedTuple

from frimble.coatings.coaters import queries as coater_queries
from frimble.core.coating.wet import FILL_WORDS, FILLS
from frimble.core.conclusions import RuleViolation
from frimble.core.emulsion.batch import unsuited
from frimble.people.room_time import day_words
from frimble.screens.models import Blemish, ScreenEvent
from frimble.screens.reclaim.services import RECLAIM_OUTCOMES
from frimble.screens.steps.services import PRE_COAT_LOOKS

_SPOIL = {
    "haze": "Haze scatters light and prints as a ghost image: remove it, degrease again and look again.",
    "emulsion": "What is left of the last stencil prints through the next: strip it again, degrease and look again.",
    "damage": "A damaged mesh prints its damage: mark it, or take the mesh off.",
}
# What a reclaim may leave that has to be drawn before the next coat hides it.
_TO_BE_DRAWN = ("ghost", "damage", "emulsion")
# A clean look after degreasing settles it: it would have been seen then.
_SEEN_WHEN_DEGREASED = frozenset({"emulsion"})
# Degreased that often between two reclaims is nobody.
_LOOKED_AT = 8
# A coater so much fuller or emptier than the house's lays another coat than those that were measured and timed.
_FILL_APART = 0.3


class Stop(NamedTuple):
    """A reason not to coat, and the field of a form that it belongs to."""

    reason: str
    field: str


def refuse_stopped(screen, settings, person, override_reason, **laid) -> None:
    """Refuse a coat that what was recorded speaks against.

    Args:
        laid: as for `stops`.

    Raises:
        RuleViolation: it was seen not to be clean, or coater or emulsion do not suit; a lead may override with a reason.
    """
    if override_reason.strip() and person.is_lead:
        return
    for stop in stops(screen, settings, **laid):
        raise RuleViolation(stop.reason, overridable=True, field=stop.field)


def stops(screen, settings, *, coater=None, fill="", emulsion=None, ink="") -> Iterator[Stop]:
    """Everything that stops a coat on this screen; what is not chosen yet is not looked at."""
    yield from of_the_mesh(screen)
    yield from _of_the_coater(screen, coater, fill, settings)
    if emulsion:
        yield from of_the_emulsion(emulsion, screen.mesh, ink)


def of_the_mesh(screen) -> Iterator[Stop]:
    """What was seen on the mesh since its last stencil and has not been mended or drawn since."""
    seen = ScreenEvent.objects.standing().filter(installation=screen.installation_id, kind__in=("degrease", "reclaim"))
    newest = list(seen.select_related("by").order_by("-at", "-pk")[:_LOOKED_AT])
    reclaimed = next((e for e in newest if e.kind == "reclaim"), None)
    looked = newest[0] if newest and newest[0].kind == "degrease" else None
    look = looked.facts.get("look", "clean") if looked else "clean"
    if look in _SPOIL:
        yield Stop(f"After degreasing, {looked.by} saw {PRE_COAT_LOOKS[look]}. {_SPOIL[look]}", "formula")
    left = reclaimed.facts.get("outcome", "clean") if reclaimed else "clean"
    settled = left in _SEEN_WHEN_DEGREASED and looked
    if left in _TO_BE_DRAWN and not _drawn_since(reclaimed) and not settled:
        yield Stop(
            f"At reclaim on {day_words(reclaimed.at)}, {reclaimed.by} found {RECLAIM_OUTCOMES[left]}, and nobody drew "
            "where it lies. Draw it on the screen's marks first: under a coat it is not seen any more.",
            "formula",
        )


def _drawn_since(reclaimed) -> bool:
    return Blemish.objects.filter(installation=reclaimed.installation, at__gte=reclaimed.at).exists()


def of_the_emulsion(emulsion, mesh, ink: str) -> list[Stop]:
    """What speaks against an emulsion on a mesh and, where that is known, for an ink."""
    against = unsuited(
        emulsion.resists, emulsion.suits, None, ink=ink or None, dyed=mesh.colour != mesh.Colour.WHITE, detail_um=None
    )
    return [Stop(f"{emulsion} {why}. Take another emulsion.", "batch") for why in against]


def _of_the_coater(screen, coater, fill: str, settings) -> Iterator[Stop]:
    usual = settings["coat.fill"]
    if fill and abs(FILLS[fill] - FILLS[usual]) > _FILL_APART:
        yield Stop(
            f"The coater is filled to {FILL_WORDS[fill]}, the house's mark is {FILL_WORDS[usual]}: so far from it the coat "
            "is another than those that were measured and timed. Fill it to the mark.",
            "fill",
        )
    if coater is None:
        return
    if coater.retired:
        yield Stop(f"{coater} is out of use.", "coater")
    condition = coater_queries.condition_of(coater, settings)
    if not condition.usable:
        yield Stop(f"{coater}: {condition.words}", "coater")
    widest = coater_queries.inner_width_mm(screen.frame, settings) - 2 * settings["coater.clear_mm"]
    if coater.length_mm > widest:
        yield Stop(
            f"{coater} is {coater.length_mm:.0f} mm long; between this frame's rails at most {widest:.0f} mm pass.",
            "coater",
        )
