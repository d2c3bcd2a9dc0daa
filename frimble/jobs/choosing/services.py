"""A screen is held for a job's colour, or let go; many at once."""

from collections.abc import Iterable

from django.db import transaction
from django.utils import timezone

from frimble.core.conclusions import RuleViolation
from frimble.core.planning.choosing.suitability import Rack, suitability
from frimble.jobs.choosing import queries
from frimble.jobs.models import Job, ScreenChoice, ScreenNeed
from frimble.screens.models import Frame


@transaction.atomic
def hold(need: ScreenNeed, code: str, person, settings, *, because: str = "") -> ScreenNeed:
    """Hold a screen for a colour; one of several that a job wants alike becomes a colour of its own.

    Raises:
        RuleViolation: something speaks against the screen and no reason says why it is taken all the same; or it is
            held for another job, or unknown.
    """
    frame = Frame.objects.select_for_update().filter(code=code).first()
    need = ScreenNeed.objects.select_for_update(of=("self",)).select_related("job", "mesh", "film").get(pk=need.pk)
    if need.beside_id:
        raise RuleViolation("It is on the screen of another colour: give it a screen of its own first.")
    found = next(iter(queries.candidates([need], settings, timezone.now(), code)), None)
    if frame is None or found is None:
        raise RuleViolation(f"{code} carries another mesh, or none: it cannot be chosen here.")
    if found.held_for:
        raise RuleViolation(f"{code} is held for {found.held_for}. Let it go there first.")
    limits = suitability(queries.want(need), found, settings).limits
    if limits and not because:
        raise RuleViolation(f"{code} {', '.join(limits)}. Say why it is taken all the same.", overridable=True)
    if need.frame_id and need.frame_id != frame.pk and not because:
        raise RuleViolation(f"{need.frame} is held already. Say why it is swapped for {code}.", overridable=True)
    if need.number > 1:
        need.number -= 1
        need.save()
        need.pk, need.number, need._state.adding = None, 1, True
    need.frame = frame
    need.save()
    ScreenChoice.objects.create(need=need, frame=frame, because=because, at=timezone.now(), by=person)
    return need


@transaction.atomic
def let_go(need: ScreenNeed, person, *, because: str) -> None:
    """The screen is free for others again.

    Raises:
        RuleViolation: none is held, or no reason is given.
    """
    need = ScreenNeed.objects.select_for_update(of=("self",)).get(pk=need.pk)
    if need.frame_id is None:
        raise RuleViolation("No screen is held for it.")
    if not because:
        raise RuleViolation("Say why it is let go.")
    need.frame = None
    need.save()
    ScreenChoice.objects.create(need=need, frame=None, because=because, at=timezone.now(), by=person)


@transaction.atomic
def hold_all(chosen: Iterable[tuple[int, str]], person, settings) -> list[ScreenNeed]:
    """All of an assignment, or none of it: numbers of needs, each with a screen's code.

    Raises:
        RuleViolation: one of them cannot be held any more.
    """
    pairs = list(chosen)
    needs = ScreenNeed.objects.in_bulk([pk for pk, _ in pairs])
    if len(needs) < len({pk for pk, _ in pairs}):
        raise RuleViolation("The jobs have changed meanwhile. Look again.")
    return [hold(needs[pk], code, person, settings) for pk, code in pairs]


def take_kept(job: Job, person, settings) -> list[str]:
    """Screens that still carry the stencils of a job's films are held for it; their codes."""
    taken = []
    for need in job.needs.filter(frame__isnull=True, film__isnull=False, number=1).select_related(
        "job", "mesh", "film"
    ):
        wanted = queries.want(need)
        fitting = Rack(queries.candidates([need], settings, timezone.now()), settings).fitting(wanted)
        kept = next((s.candidate.code for s in fitting if s.kept), None)
        if kept:
            taken.append(hold(need, kept, person, settings).frame.code)
    return taken
