"""A coating run: begun, tapped through, finished."""

from django.db import transaction
from django.utils import timezone

from frimble.coatings.batches import queries as batch_queries
from frimble.coatings.batches import services as batch_services
from frimble.coatings.coaters import queries as coater_queries
from frimble.coatings.coats import services as coat_services
from frimble.coatings.drying import queries as drying_queries
from frimble.coatings.models import BatchRecord, Coat, CoatingRun, RunScreen
from frimble.coatings.runs.queries import plan, poured_l
from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.people import settings as house_settings


@transaction.atomic
def start(chosen, person, *, batch, coater, fill, poured_l, ink="") -> CoatingRun:
    """Begin a run with what was poured.

    Raises:
        InvalidInput: as `plan`, more poured than the batch holds, or a coater unfit to coat.
        RuleViolation: the batch is past its life, or still cold.
    """
    settings, now = house_settings.current(), timezone.now()
    made = plan(chosen, batch, coater, fill, settings, ink)
    standing = next(s for s in coater_queries.standing(settings) if s.coater == coater)
    if not standing.usable:
        raise InvalidInput(f"{coater}: {standing.words}", "coater")
    if left := batch_queries.warm_up_left_min(batch, settings, now):
        raise RuleViolation(f"{batch.code} came from the cold: let it stand about {left:.0f} min more.", field="batch")
    if batch_queries.stands_cold(batch, settings, now):
        raise RuleViolation(f"{batch.code} stands in the cold: take it out and let it warm first.", field="batch")
    run = CoatingRun.objects.create(batch=batch, coater=coater, fill=fill, ink=ink, by=person, started_at=now)
    batch_services.change_litres(batch, BatchRecord.Kind.POURED, poured_l, person, run=run)
    RunScreen.objects.bulk_create(
        RunScreen(run=run, screen=turn.screen, number=number, formula=str(turn.formula))
        for number, turn in enumerate(made.turns, start=1)
    )
    return run


@transaction.atomic
def coated(run: CoatingRun, turn: RunScreen, person, *, stroke_s=None) -> Coat:
    """One tap: the screen that is up has been coated.

    Raises:
        RuleViolation: the run is over, or the screen may not be coated now.
    """
    if run.ended_at:
        raise RuleViolation("This run is over.")
    turn = RunScreen.objects.select_for_update().get(pk=turn.pk)
    if turn.coat_id or turn.left_out:
        raise RuleViolation(f"{turn.screen} has had its turn.")
    settings = house_settings.current()
    turn.coat = coat_services.coat(
        turn.screen.code,
        person,
        formula=turn.formula,
        batch=run.batch,
        air=drying_queries.air_now(settings),
        coater=run.coater,
        fill=run.fill,
        stroke_s=stroke_s,
        ink=run.ink,
    )
    turn.save()
    return turn.coat


def leave_out(turn: RunScreen, why: str) -> None:
    """The screen that is up is not coated in this run.

    Raises:
        InvalidInput: no reason given.
    """
    if not why.strip():
        raise InvalidInput("Say why it is left out.", "why")
    turn.left_out = why.strip()[:200]
    turn.save()


@transaction.atomic
def finish(run: CoatingRun, person, *, returned_l: float, washed: bool) -> CoatingRun:
    """The run's last step: the rest back in the batch, the coater washed.

    Raises:
        InvalidInput: more comes back than was poured, or the coater is not washed yet.
    """
    if run.ended_at:
        raise RuleViolation("This run is over.")
    poured = poured_l(run)
    if returned_l > poured:
        raise InvalidInput(f"{poured:.2f} l were poured; more cannot come back.", "returned_l")
    if not washed:
        raise InvalidInput(
            "Wash the coater at once: dried emulsion on its edge draws lines in the next coat.", "washed"
        )
    batch_services.change_litres(run.batch, BatchRecord.Kind.RETURNED, returned_l, person, run=run)
    run.ended_at = timezone.now()
    run.save()
    return run
