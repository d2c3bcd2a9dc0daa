"""Colours of several jobs ganged up on one screen, beside or under each other."""

from django.db import transaction

from frimble.core.conclusions import RuleViolation
from frimble.core.planning.choosing.suitability import suitability
from frimble.jobs.choosing import queries
from frimble.jobs.models import ScreenNeed


def may_join(need: ScreenNeed):
    """Colours on whose screen this one might go: of the same mesh and coat, with a screen of their own."""
    others = queries.open_needs().filter(mesh=need.mesh, formula=need.formula, number=1, beside__isnull=True)
    return others.exclude(pk=need.pk)


@transaction.atomic
def gang_up(need: ScreenNeed, leader: ScreenNeed, settings, now) -> None:
    """One colour goes on another's screen.

    Raises:
        RuleViolation: they cannot share one, or a size is not known, or the screen that is held takes no two.
    """
    need = ScreenNeed.objects.select_for_update(of=("self",)).get(pk=need.pk)
    leader = ScreenNeed.objects.select_for_update(of=("self",)).select_related("job", "mesh", "film").get(pk=leader.pk)
    if need.frame_id or need.number != 1 or need.ganged.exists():
        raise RuleViolation("It has a screen of its own, or shares one: let that go first.")
    if not may_join(need).filter(pk=leader.pk).exists():
        raise RuleViolation(f"{leader.key} is of another mesh or coat, or has no screen of its own.")
    need.beside, need.number = leader, 0
    need.save()
    wanted = queries.want(leader)
    if not wanted.images_mm:
        raise RuleViolation(
            "Name the films of both first: without their sizes nobody knows whether they go on one screen."
        )
    if leader.frame_id:
        (found,) = queries.candidates([leader], settings, now, [leader.frame.code])
        if limits := suitability(wanted, found, settings).limits:
            raise RuleViolation(f"{leader.frame.code} {', '.join(limits)}.")


@transaction.atomic
def set_apart(need: ScreenNeed) -> None:
    """It wants a screen of its own again."""
    ScreenNeed.objects.filter(pk=need.pk, beside__isnull=False).update(beside=None, number=1)
