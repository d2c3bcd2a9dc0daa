"""A screen is held for a job's colour, or let go; many at once."""

from collections.abc import Iterable
from copy import copy

from django.db import transaction
from django.db.models.base import ModelState
from django.utils import timezone

from frimble.core.conclusions import RuleViolation
from frimble.core.planning.choosing.suitability import Candidate, Candidates, suitability
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
    (held,) = _hold([(need.pk, code)], person, settings, because)
    return held


def _hold(pairs: list[tuple[int, str]], person, settings, because: str = "") -> list[ScreenNeed]:
    """Numbers of needs, each with a screen's code: looked up all at once, since others wait meanwhile."""
    codes = [code for _, code in pairs]
    frames = {frame.code: frame for frame in Frame.objects.select_for_update().filter(code__in=codes)}
    locked = ScreenNeed.objects.select_for_update(of=("self",)).select_related("job", "mesh", "film")
    needs = locked.prefetch_related("ganged__film").in_bulk({pk for pk, _ in pairs})
    if len(needs) < len({pk for pk, _ in pairs}):
        raise RuleViolation("The jobs have changed meanwhile. Look again.")
    found = {c.code: c for c in queries.candidates(needs.values(), settings, timezone.now(), codes)}
    held: list[ScreenNeed] = []
    for pk, code in pairs:
        _may_hold(needs[pk], code, found.get(code), settings, because)
        if twice := next((one for one in held if one.frame.code == code), None):
            raise RuleViolation(f"{code} is held for {twice.key}. Let it go there first.")
        need = _written(needs[pk], frames[code])
        ScreenChoice.objects.create(need=need, frame=need.frame, because=because, at=timezone.now(), by=person)
        held.append(need)
    return held


def _may_hold(need: ScreenNeed, code: str, found: Candidate | None, settings, because: str) -> None:
    if need.beside_id:
        raise RuleViolation("It is on the screen of another colour: give it a screen of its own first.")
    if found is None or found.mesh != str(need.mesh):
        raise RuleViolation(f"{code} carries another mesh, or none: it cannot be chosen here.")
    if found.held_for:
        raise RuleViolation(f"{code} is held for {found.held_for}. Let it go there first.")
    limits = suitability(queries.want(need), found, settings).limits
    if limits and not because:
        raise RuleViolation(f"{code} {', '.join(limits)}. Say why it is taken all the same.", overridable=True)
    if need.frame_id and need.frame.code != code and not because:
        raise RuleViolation(f"{need.frame} is held already. Say why it is swapped for {code}.", overridable=True)


def _written(need: ScreenNeed, frame: Frame) -> ScreenNeed:
    """The need that holds the frame: of several alike one of its own."""
    if need.number > 1:
        need.number -= 1
        need.save()
        need = copy(need)
        need.pk, need.number, need._state = None, 1, ModelState()
    need.frame = frame
    need.save()
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
    return _hold(list(chosen), person, settings)


def take_kept(job: Job, person, settings) -> list[str]:
    """Screens that still carry the stencils of a job's films are held for it; their codes."""
    taken = []
    for need in job.needs.filter(frame__isnull=True, film__isnull=False, number=1).select_related(
        "job", "mesh", "film"
    ):
        wanted = queries.want(need)
        fitting = Candidates(queries.candidates([need], settings, timezone.now()), settings).fitting(wanted)
        kept = next((s.candidate.code for s in fitting if s.kept), None)
        if kept:
            taken.append(hold(need, kept, person, settings).frame.code)
    return taken
