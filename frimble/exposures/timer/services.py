"""The dark-room timer: opened, its taps stored, finished into an exposure, given up."""

from datetime import UTC, datetime, timedelta

from django.db import IntegrityError, transaction
from django.utils import timezone

from frimble.coatings.coats.queries import current_coat
from frimble.core.conclusions import InvalidInput, RuleViolation, require_between
from frimble.core.exposure import timer
from frimble.core.exposure.steptest import plan as steptest
from frimble.core.lifecycle import State
from frimble.core.units import show_seconds
from frimble.exposures.models import Exposure, Run, StepTest, Tap, TestScreen
from frimble.exposures.production.stops import refuse_stopped
from frimble.people import settings as house_settings
from frimble.screens import ledger


def coat_to_expose(screen):
    coat = current_coat(screen)
    if coat is None or screen.state != State.COATED:
        raise RuleViolation(f"{screen.code} has no finished coat to expose.")
    return coat


@transaction.atomic
def start_exposure(
    code,
    person,
    *,
    lamp,
    film_process,
    time_s,
    entry,
    why,
    revision,
    override_reason="",
    film=None,
    meter=None,
    sky="",
    keeps_off=False,
) -> Run:
    """Open the timer for a production exposure of `time_s` seconds of light.

    Raises:
        RuleViolation: the screen may not be exposed now, its timer is open already, or what was recorded of it and the
            film speaks against it.
        InvalidInput: an absurd time.
    """
    screen = ledger.lock(code, revision)
    ledger.check_step(screen, "expose", timezone.now(), override_reason, person)
    refuse_stopped(screen, coat_to_expose(screen), film, person, override_reason, keeps_off)
    settings = house_settings.current()
    shortest, longest = settings["steptest.shortest_s"], settings["steptest.longest_s"]
    require_between(time_s, shortest, longest, "An exposure, in s,", "own_time_s")
    return open_run(
        screen,
        person,
        lamp,
        film_process,
        entry=entry,
        time_s=time_s,
        total_s=time_s + lamp.start_lag_s,
        why=why,
        override_reason=override_reason,
        film=film,
        meter=meter,
        sky=sky,
    )


def open_run(screen, person, lamp, film_process, **fields) -> Run:
    try:
        with transaction.atomic():
            return Run.objects.create(
                screen=screen,
                lamp=lamp,
                film_process=film_process,
                warm_up_s=lamp.warm_up_s,
                made_by=person,
                made_at=timezone.now(),
                **fields,
            )
    except IntegrityError:
        other = Run.objects.get(screen=screen, status=Run.Status.OPEN)
        raise RuleViolation(
            f"{other.made_by} has the timer open for {screen.code}: finish or give up that run first."
        ) from None


@transaction.atomic
def take_taps(run_id: int, taps) -> Run:
    """Store taps, each once however often it is sent; the last one finishes the run.

    Args:
        taps: (uid, kind, at) with `at` an aware datetime.

    Raises:
        InvalidInput: a tap fits neither the run nor the clock; nothing is stored.
    """
    run = Run.objects.select_for_update(of=("self",)).select_related("step_test").get(pk=run_id)
    now = timezone.now()
    known = set(Tap.objects.filter(uid__in=[uid for uid, _, _ in taps]).values_list("uid", flat=True))
    fresh = [t for t in taps if t[0] not in known]
    if fresh and run.status != Run.Status.OPEN:
        raise InvalidInput(f"This run is {run.get_status_display()}: it takes no more taps.", "taps")
    for uid, kind, at in fresh:
        if not run.made_at - timedelta(seconds=5) <= at <= now + timedelta(seconds=5):
            raise InvalidInput("A tap's time does not fit the clock of this room's server.", "taps")
        Tap.objects.create(run=run, uid=uid, kind=kind, at=at, received_at=now)
    times = run.times()
    if times.phase == timer.Phase.DONE and run.status == Run.Status.OPEN:
        _finish(run, times)
    return run


def tap_time(milliseconds: float) -> datetime:
    """A tap's moment from the browser, milliseconds since 1970."""
    try:
        return datetime.fromtimestamp(milliseconds / 1000, UTC)
    except (ValueError, OverflowError, OSError, TypeError):
        raise InvalidInput("A tap's time cannot be read.", "taps") from None


def _finish(run: Run, times: timer.RunTimes) -> None:
    """Turn a finished run into an exposure record; what cannot be recorded stays visible as the run's trouble."""
    if times.off_s <= run.lamp.start_lag_s:
        _end_without_light(
            run,
            f"Lamp off came after {show_seconds(times.off_s)}; this lamp takes {show_seconds(run.lamp.start_lag_s)} "
            "to start: it gave no light. No exposure is recorded; begin again.",
        )
        return
    given = round(times.off_s - run.lamp.start_lag_s, 2)
    member = TestScreen.objects.filter(run=run).select_related("step_test").first()
    test = run.step_test or (member.step_test if member else None)
    exposed = f"Exposed {show_seconds(given)}, {show_seconds(run.time_s)} planned"
    summary = f"{exposed}, under {run.lamp} through {run.film_process}"
    facts = {"is_test": test is not None, "given_s": given}
    if test is not None:
        summary = f"{test} exposed under {run.lamp}, {show_seconds(given)} in all"
        facts["test"] = test.pk
        _store_screen_time(member, given) if member else _store_real_times(run, test, times)
    try:
        with transaction.atomic():
            event = ledger.record(
                run.screen.frame.code,
                "expose",
                run.made_by,
                facts=facts,
                summary=summary,
                override_reason=run.override_reason,
            )
            Exposure.objects.create(
                event=event,
                lamp=run.lamp,
                film_process=run.film_process,
                film=run.film,
                entry=run.entry,
                run=run,
                planned_s=run.time_s,
                given_s=given,
                meter=run.meter,
                sky=run.sky,
                units=given * run.lamp.units_a_second if run.lamp.units_a_second else None,
            )
    except RuleViolation as refusal:
        run.trouble = f"The light was given but not recorded on the screen: {refusal.reason}"[:400]
    run.status = Run.Status.DONE
    run.save()


def _store_real_times(run, test, times) -> None:
    try:
        if test.factors:
            test.real_times_s = steptest.factored_times(test.factors, test.lag_s, times.off_s)
        else:
            test.real_times_s = steptest.effective_times(test.plan, times.moves_s, times.off_s)
            if unsure := [str(n) for n, time in enumerate(test.real_times_s, start=1) if time is None]:
                run.trouble = (
                    f"A card move was not tapped: the light of strip {', '.join(unsure)} is not sure. Read the others."
                )
        test.status = StepTest.Status.EXPOSED
    except InvalidInput as error:
        test.status = StepTest.Status.SPOILED
        run.trouble = f"The test cannot be read: {error} Reclaim the screen and test again."[:400]
    test.save()


def _store_screen_time(member: TestScreen, given: float) -> None:
    """The light one screen of a test really got; with the last of them the test is exposed."""
    test = member.step_test
    times = list(test.real_times_s or test.planned_times_s)
    times[member.strip - 1] = given
    test.real_times_s = times
    left = test.screens.exclude(pk=member.pk).exclude(run__status=Run.Status.DONE)
    if not left.exists():
        test.status = StepTest.Status.EXPOSED
    test.save()


@transaction.atomic
def abandon(run_id: int, person) -> Run:
    """Give up a run that gave no light.

    Raises:
        RuleViolation: light was given; stop the lamp instead, so that the dose is known.
    """
    run = Run.objects.select_for_update().get(pk=run_id)
    if run.status != Run.Status.OPEN:
        raise RuleViolation(f"This run is {run.get_status_display()} already.")
    if run.times().phase == timer.Phase.LIGHT:
        raise RuleViolation("Light has been given: tap “Lamp off” so that the dose is known.")
    _end_without_light(run, f"Given up by {person} before any light.")
    return run


def _end_without_light(run: Run, trouble: str) -> None:
    run.status = Run.Status.ABANDONED
    run.trouble = trouble
    run.save()
