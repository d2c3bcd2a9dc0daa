"""Planning a step test and opening its timer."""

from django.db import transaction
from django.utils import timezone

from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.core.exposure.steptest import plan as steptest
from frimble.core.units import show_seconds
from frimble.exposures.models import Run, StepTest, TestScreen
from frimble.exposures.steptests import kinds
from frimble.exposures.steptests import wash as wash_protocol
from frimble.exposures.timer.services import coat_to_expose, open_run
from frimble.people import settings as house_settings
from frimble.screens import ledger
from frimble.screens.models import Screen


@transaction.atomic
def start_test(
    code,
    person,
    plan: steptest.StepTestPlan,
    *,
    lamp,
    film_process,
    length_mm,
    revision,
    override_reason="",
    kind=kinds.USUAL.key,
    own_film=False,
    factor_film=None,
    meter=None,
    sky="",
) -> Run:
    """Store a planned step test and open its timer.

    Args:
        kind: of those that go on one screen; `start_test_of_screens` plans one on several.

    Raises:
        RuleViolation: the screen may not be exposed now, or its timer is open already.
    """
    screen, test = _store_test(
        code,
        person,
        plan,
        lamp=lamp,
        film_process=film_process,
        length_mm=length_mm,
        revision=revision,
        override_reason=override_reason,
        kind=kind,
        own_film=own_film,
        factor_film=factor_film,
    )
    return open_run(
        screen,
        person,
        lamp,
        film_process,
        step_test=test,
        time_s=plan.total_s - plan.lag_s,
        total_s=plan.total_s,
        moves_s=[m.at_s for m in plan.moves],
        override_reason=override_reason,
        meter=meter,
        sky=sky,
        why=f"{test.get_kind_display().capitalize()} step test around {show_seconds(plan.guess_s)}.",
    )


@transaction.atomic
def start_test_of_screens(
    codes, person, times_s, guess_s, *, lamp, film_process, revision, override_reason="", series="sqrt2"
) -> StepTest:
    """Store a test that gives each of several screens a time of its own; each is then exposed by itself.

    Args:
        codes: screens in the order of `times_s`, longest time first, coated alike.

    Raises:
        RuleViolation: a screen may not be exposed now, or is coated otherwise than the first.
        InvalidInput: fewer than three screens, or one named twice.
    """
    if len(codes) < 3 or len(set(codes)) != len(codes):
        raise InvalidInput("Three different screens at least are needed, one for each time.", "others")
    plan = steptest.StepTestPlan(guess_s, series, "", tuple(times_s), (), times_s[0], 0.0)
    first, test = _store_test(
        codes[0],
        person,
        plan,
        lamp=lamp,
        film_process=film_process,
        length_mm=1,
        revision=revision,
        override_reason=override_reason,
        kind=kinds.screens.KIND.key,
        own_film=False,
    )
    TestScreen.objects.create(step_test=test, screen=first, strip=1)
    for strip, code in enumerate(codes[1:], start=2):
        screen = Screen.objects.for_lists().filter(frame__code=code).first()
        if screen is None:
            raise InvalidInput(f"No screen is called {code}.", "others")
        coat = coat_to_expose(screen)
        if (screen.mesh, coat.formula, coat.batch.emulsion) != (test.mesh, test.formula, test.emulsion):
            raise RuleViolation(
                f"{code} has another mesh or coat: the test would change two things at once.", field="others"
            )
        TestScreen.objects.create(step_test=test, screen=screen, strip=strip)
    return test


@transaction.atomic
def start_test_screen(member: TestScreen, person) -> Run:
    """Open the timer for one screen of a test of several.

    Raises:
        RuleViolation: it had its light, or the screen may not be exposed now.
    """
    if member.run_id and member.run.status != Run.Status.ABANDONED:
        raise RuleViolation(f"{member.screen.code} has its run in this test already.")
    test, code = member.step_test, member.screen.frame.code
    screen = ledger.lock(code, None)
    ledger.check_step(screen, "expose", timezone.now(), "", person)
    coat_to_expose(screen)
    time = test.planned_times_s[member.strip - 1]
    run = open_run(
        screen,
        person,
        test.lamp,
        test.film_process,
        time_s=time,
        total_s=time + test.lamp.start_lag_s,
        why=f"{test}, screen {member.strip} of {len(test.planned_times_s)}.",
    )
    member.run = run
    member.save()
    return run


def _store_test(
    code, person, plan, *, lamp, film_process, length_mm, revision, override_reason, kind, own_film, factor_film=None
):
    """(screen, test) of a plan."""
    screen = ledger.lock(code, revision)
    now = timezone.now()
    ledger.check_step(screen, "expose", now, override_reason, person)
    coat = coat_to_expose(screen)
    test = StepTest.objects.create(
        screen=screen,
        mesh=screen.mesh,
        formula=coat.formula,
        emulsion=coat.batch.emulsion,
        batch=coat.batch,
        lamp=lamp,
        film_process=film_process,
        guess_s=plan.guess_s,
        series=plan.series,
        card=plan.card,
        lag_s=plan.lag_s,
        length_mm=length_mm,
        planned_times_s=plan.times_s,
        moves=[[m.at_s, m.strip] for m in plan.moves],
        total_s=plan.total_s,
        lamp_distance_mm=lamp.distance_mm,
        planned_by=person,
        planned_at=now,
        kind=kind,
        own_film=own_film,
        factor_film=factor_film,
        factors=_factors(plan) if kinds.KINDS[kind].by_factors else None,
        **wash_protocol.protocol(screen.mesh, coat.formula, coat.batch.emulsion, house_settings.current()),
    )
    return screen, test


def _factors(plan) -> list[float]:
    return [round(t / (plan.total_s - plan.lag_s), 5) for t in plan.times_s]
