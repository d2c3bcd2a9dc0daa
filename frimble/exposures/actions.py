"""Planning a step test, running the timer, reading a test, washing out and inspecting."""

from datetime import UTC, datetime, timedelta

from django.db import IntegrityError, transaction
from django.utils import timezone

from frimble.coatings.coats.queries import current_coat
from frimble.core.conclusions import OutOfRange, Refused, require_between
from frimble.core.exposure import timer
from frimble.core.exposure.steptest import greyscale as grey_scale
from frimble.core.exposure.steptest import plan as steptest
from frimble.core.exposure.steptest.reading import SCHOOLS, StepGrade, read_grades
from frimble.core.lifecycle import State
from frimble.core.units import show_seconds
from frimble.exposures import drift, washing
from frimble.exposures.models import Exposure, ReadStep, Run, StepTest, Tap, TestReading, TestScreen, Washout
from frimble.people import standards
from frimble.screens import ledger
from frimble.screens.models import Screen


def _coat_on(screen):
    coat = current_coat(screen)
    if coat is None or screen.state != State.COATED:
        raise Refused(f"{screen.code} has no finished coat to expose.")
    return coat


@transaction.atomic
def start_test(
    code, person, plan: steptest.StepTestPlan, *, lamp, film, length_mm, revision, override_reason="", kind="card",
    own_film=False, meter=None, sky="",
) -> Run:  # fmt: skip
    """Store a planned step test and open its timer.

    Args:
        kind: "card", "factor" or "grey"; `start_test_of_screens` plans the fourth.

    Raises:
        Refused: the screen may not be exposed now, or its timer is open already.
    """
    screen, test = _store_test(code, person, plan, lamp=lamp, film=film, length_mm=length_mm, revision=revision,
                               override_reason=override_reason, kind=kind, own_film=own_film)  # fmt: skip
    return _open_run(
        screen, person, lamp, film, step_test=test, time_s=plan.total_s - plan.lag_s, total_s=plan.total_s,
        moves_s=[m.at_s for m in plan.moves], override_reason=override_reason, meter=meter, sky=sky,
        why=f"{test.get_kind_display().capitalize()} step test around {show_seconds(plan.guess_s)}.",
    )  # fmt: skip


@transaction.atomic
def start_test_of_screens(
    codes, person, times_s, guess_s, *, lamp, film, revision, override_reason="", series="sqrt2"
) -> StepTest:
    """Store a test that gives each of several screens a time of its own; each is then exposed by itself.

    Args:
        codes: screens in the order of `times_s`, longest time first, coated alike.

    Raises:
        Refused: a screen may not be exposed now, or is coated otherwise than the first.
        OutOfRange: fewer than three screens, or one named twice.
    """
    if len(codes) < 3 or len(set(codes)) != len(codes):
        raise OutOfRange("Three different screens at least are needed, one for each time.", "others")
    plan = steptest.StepTestPlan(guess_s, series, "", tuple(times_s), (), times_s[0], 0.0)
    first, test = _store_test(codes[0], person, plan, lamp=lamp, film=film, length_mm=1, revision=revision,
                              override_reason=override_reason, kind=StepTest.Kind.SCREENS, own_film=False)  # fmt: skip
    TestScreen.objects.create(step_test=test, screen=first, strip=1)
    for strip, code in enumerate(codes[1:], start=2):
        screen = Screen.objects.for_lists().filter(frame__code=code).first()
        if screen is None:
            raise OutOfRange(f"No screen is called {code}.", "others")
        coat = _coat_on(screen)
        if (screen.mesh, coat.formula, coat.batch.emulsion) != (test.mesh, test.formula, test.emulsion):
            raise Refused(f"{code} has another mesh or coat: the test would change two things at once.", field="others")
        TestScreen.objects.create(step_test=test, screen=screen, strip=strip)
    return test


@transaction.atomic
def start_test_screen(member: TestScreen, person) -> Run:
    """Open the timer for one screen of a test of several.

    Raises:
        Refused: it had its light, or the screen may not be exposed now.
    """
    if member.run_id and member.run.status != Run.Status.ABANDONED:
        raise Refused(f"{member.screen.code} has its run in this test already.")
    test, code = member.step_test, member.screen.frame.code
    screen = ledger.lock(code, None)
    ledger.check_step(screen, "expose", timezone.now(), "", person)
    _coat_on(screen)
    time = test.planned_times_s[member.strip - 1]
    run = _open_run(
        screen, person, test.lamp, test.film, time_s=time, total_s=time + test.lamp.start_lag_s,
        why=f"{test}, screen {member.strip} of {len(test.planned_times_s)}.",
    )  # fmt: skip
    member.run = run
    member.save()
    return run


def _store_test(code, person, plan, *, lamp, film, length_mm, revision, override_reason, kind, own_film):
    """(screen, test) of a plan."""
    screen = ledger.lock(code, revision)
    now = timezone.now()
    ledger.check_step(screen, "expose", now, override_reason, person)
    coat = _coat_on(screen)
    test = StepTest.objects.create(
        screen=screen, mesh=screen.mesh, formula=coat.formula, emulsion=coat.batch.emulsion, batch=coat.batch,
        lamp=lamp, film=film, guess_s=plan.guess_s, series=plan.series, card=plan.card, lag_s=plan.lag_s,
        length_mm=length_mm, planned_times_s=plan.times_s, moves=[[m.at_s, m.strip] for m in plan.moves],
        total_s=plan.total_s, lamp_distance_mm=lamp.distance_mm, planned_by=person, planned_at=now, kind=kind,
        own_film=own_film, factors=_factors(plan) if kind in _FACTORED else None,
        **washing.protocol(screen.mesh, coat.formula, coat.batch.emulsion, standards.current()),
    )  # fmt: skip
    return screen, test


_FACTORED = (StepTest.Kind.FACTOR, StepTest.Kind.GREY)


def _factors(plan) -> list[float]:
    return [round(t / (plan.total_s - plan.lag_s), 5) for t in plan.times_s]


@transaction.atomic
def start_exposure(
    code, person, *, lamp, film, time_s, entry, why, revision, override_reason="", positive=None, meter=None, sky=""
) -> Run:
    """Open the timer for a production exposure of `time_s` seconds of light.

    Raises:
        Refused: the screen may not be exposed now, or its timer is open already.
        OutOfRange: an absurd time.
    """
    screen = ledger.lock(code, revision)
    ledger.check_step(screen, "expose", timezone.now(), override_reason, person)
    _coat_on(screen)
    in_force = standards.current()
    shortest, longest = in_force["steptest.shortest_s"], in_force["steptest.longest_s"]
    require_between(time_s, shortest, longest, "An exposure, in s,", "own_time_s")
    return _open_run(
        screen, person, lamp, film, entry=entry, time_s=time_s, total_s=time_s + lamp.start_lag_s, why=why,
        override_reason=override_reason, positive=positive, meter=meter, sky=sky,
    )  # fmt: skip


def _open_run(screen, person, lamp, film, **fields) -> Run:
    try:
        with transaction.atomic():
            return Run.objects.create(
                screen=screen, lamp=lamp, film=film, warm_up_s=lamp.warm_up_s, made_by=person, made_at=timezone.now(),
                **fields,
            )  # fmt: skip
    except IntegrityError:
        other = Run.objects.get(screen=screen, status=Run.Status.OPEN)
        raise Refused(
            f"{other.made_by} has the timer open for {screen.code}: finish or give up that run first."
        ) from None


@transaction.atomic
def take_taps(run_id: int, taps) -> Run:
    """Store taps, each once however often it is sent; the last one finishes the run.

    Args:
        taps: (uid, kind, at) with `at` an aware datetime.

    Raises:
        OutOfRange: a tap fits neither the run nor the clock; nothing is stored.
    """
    run = Run.objects.select_for_update().select_related("step_test").get(pk=run_id)
    now = timezone.now()
    known = set(Tap.objects.filter(uid__in=[uid for uid, _, _ in taps]).values_list("uid", flat=True))
    fresh = [t for t in taps if t[0] not in known]
    if fresh and run.status != Run.Status.OPEN:
        raise OutOfRange(f"This run is {run.get_status_display()}: it takes no more taps.", "taps")
    for uid, kind, at in fresh:
        if not run.made_at - timedelta(seconds=5) <= at <= now + timedelta(seconds=5):
            raise OutOfRange("A tap's time does not fit the clock of this room's server.", "taps")
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
        raise OutOfRange("A tap's time cannot be read.", "taps") from None


def _finish(run: Run, times: timer.RunTimes) -> None:
    """Turn a finished run into an exposure record; what cannot be recorded stays visible as the run's trouble."""
    given = round(times.off_s - run.lamp.start_lag_s, 2)
    member = TestScreen.objects.filter(run=run).select_related("step_test").first()
    test = run.step_test or (member.step_test if member else None)
    summary = f"Exposed {show_seconds(given)}, {show_seconds(run.time_s)} planned, under {run.lamp} through {run.film}"
    facts = {"is_test": test is not None, "given_s": given}
    if test is not None:
        summary = f"{test} exposed under {run.lamp}, {show_seconds(given)} in all"
        facts["test"] = test.pk
        _store_screen_time(member, given) if member else _store_real_times(run, test, times)
    try:
        with transaction.atomic():
            event = ledger.record(
                run.screen.frame.code, "expose", run.made_by, facts=facts, summary=summary,
                override_reason=run.override_reason,
            )  # fmt: skip
            Exposure.objects.create(
                event=event, lamp=run.lamp, film=run.film, positive=run.positive, entry=run.entry, run=run,
                planned_s=run.time_s, given_s=given, meter=run.meter, sky=run.sky,
                units=given * run.lamp.units_a_second if run.lamp.units_a_second else None,
            )  # fmt: skip
    except Refused as refusal:
        run.trouble = f"The light was given but not recorded on the screen: {refusal.reason}"[:400]
    run.status = Run.Status.DONE
    run.save()


def _store_real_times(run, test, times) -> None:
    try:
        if test.factors:
            test.real_times_s = steptest.factored_times(test.factors, test.lag_s, times.off_s)
        else:
            test.real_times_s = steptest.effective_times(test.plan, times.moves_s, times.off_s)
        test.status = StepTest.Status.EXPOSED
    except OutOfRange as error:
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
        Refused: light was given; stop the lamp instead, so that the dose is known.
    """
    run = Run.objects.select_for_update().get(pk=run_id)
    if run.status != Run.Status.OPEN:
        raise Refused(f"This run is {run.get_status_display()} already.")
    if run.times().phase == timer.Phase.LIGHT:
        raise Refused("Light has been given: tap “Lamp off” so that the dose is known.")
    run.status = Run.Status.ABANDONED
    run.trouble = f"Given up by {person} before any light."
    run.save()
    return run


@transaction.atomic
def read_test(
    test: StepTest, steps: list[StepGrade], school: str, wanted_opening_um: float, person, photo=None, marks=None
) -> TestReading:
    """Store a reading with what the core concludes from it.

    Args:
        marks: by strip, the marks its grade was ranked from; None where it was graded as a whole.

    Raises:
        Refused: the test is not exposed and washed out yet, or spoiled.
        OutOfRange: a grade, school or size the core cannot take.
    """
    if test.status != StepTest.Status.EXPOSED:
        raise Refused(f"This test is {test.get_status_display()}: it cannot be read.")
    unwashed = next((s for s in test.all_screens() if s.state == State.EXPOSED), None)
    if unwashed:
        raise Refused(f"Wash {unwashed.frame.code} out first, then read it dry against the light.")
    if school not in SCHOOLS:
        raise OutOfRange("Choose one of the three schools.", "school")
    found = read_grades(steps, school, wanted_opening_um, standards.current())
    reading = TestReading.objects.create(
        step_test=test, school=school, wanted_opening_um=wanted_opening_um, outcome=found.outcome,
        recommended_s=found.recommended.value, read_by=person, read_at=timezone.now(), photo=photo,
    )  # fmt: skip
    ReadStep.objects.bulk_create(
        ReadStep(
            reading=reading, strip=s.strip, time_s=s.time_s, grade=s.grade, finest_opening_um=s.finest_opening_um,
            thinnest_line_um=s.thinnest_line_um, smallest_dot=s.smallest_dot, slimy=s.slimy, pale=s.pale,
            marks=(marks or {}).get(s.strip),
        )
        for s in steps
    )  # fmt: skip
    _record_reading(test, person, found)
    return reading


@transaction.atomic
def read_grey_scale(test: StepTest, solid_step: float, school: str, person) -> TestReading:
    """Store the reading of a grey scale: the highest step that stands solid.

    Raises:
        Refused: the test is not a grey scale, not exposed, or not washed out yet.
        OutOfRange: no such step.
    """
    if test.kind != StepTest.Kind.GREY or test.status != StepTest.Status.EXPOSED:
        raise Refused("This is no exposed grey scale.")
    if test.screen.state == State.EXPOSED:
        raise Refused(f"Wash {test.screen.frame.code} out first, then read it dry against the light.")
    in_force = standards.current()
    found = grey_scale.as_reading(test.times_s[0], solid_step, in_force)
    reading = TestReading.objects.create(
        step_test=test, school=school, wanted_opening_um=in_force["steptest.wanted_opening_um"], outcome=found.outcome,
        recommended_s=found.recommended.value, read_by=person, read_at=timezone.now(), solid_step=solid_step,
    )  # fmt: skip
    _record_reading(test, person, found)
    return reading


def _record_reading(test: StepTest, person, found) -> None:
    """Put the reading on the record of every screen of the test."""
    told = show_seconds(found.recommended.value) if found.usable else found.outcome
    for screen in test.all_screens():
        ledger.record(screen.frame.code, "read_test", person, facts={"test": test.pk}, summary=f"{test} read: {told}")


@transaction.atomic
def wash(code, person, *, soak_s, rinse_s, **kwargs):
    """Soaked and rinsed; the stencil now dries."""
    in_force = standards.current()
    require_between(soak_s, 0, in_force["wash.longest_s"], "The soak, in s,", "soak_s")
    require_between(rinse_s, 1, in_force["wash.longest_s"], "The rinse, in s,", "rinse_s")
    minutes = in_force["wash.dry_min"]
    event = ledger.record(
        code, "wash", person, facts=ledger.wetted({"soak_s": soak_s, "rinse_s": rinse_s}, minutes, timezone.now()),
        summary=f"Washed out: soak {soak_s:g} s, rinse {rinse_s:g} s", **kwargs,
    )  # fmt: skip
    Washout.objects.create(event=event, soak_s=soak_s, rinse_s=rinse_s)
    return event


@transaction.atomic
def inspect(code, person, *, verdict, pinholes, strip_step=None, **kwargs):
    """Inspected against the light: passed, passed with pinholes blocked, or failed; and its control strip read."""
    if strip_step is not None:
        drift.record_strip(Screen.objects.for_lists().get(frame__code=code), strip_step, person)
    most = standards.current()["wash.most_pinholes"]
    require_between(pinholes, 0, most, "The number of pinholes", "pinholes")
    words = {"pass": "passed", "fail": "failed"}[verdict]
    blocked = {0: "", 1: ", 1 pinhole blocked"}.get(pinholes, f", {pinholes} pinholes blocked")
    return ledger.record(
        code, "inspect", person, facts={"passed": verdict == "pass", "pinholes": pinholes},
        summary=f"Inspected: {words}{blocked}", **kwargs,
    )  # fmt: skip
