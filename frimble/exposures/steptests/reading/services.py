"""Reading a step test, and accepting its time into the exposure chart."""

from django.db import transaction
from django.utils import timezone

from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.core.exposure.steptest import greyscale as grey_scale
from frimble.core.exposure.steptest.reading import SCHOOLS, StepGrade, read_grades
from frimble.core.lifecycle import State
from frimble.core.units import show_seconds
from frimble.exposures.chart import queries as chart_queries
from frimble.exposures.models import ReadStep, StepTest, TestReading
from frimble.people import settings as house_settings
from frimble.screens import ledger


@transaction.atomic
def read_test(
    test: StepTest, steps: list[StepGrade], school: str, wanted_opening_um: float, person, photo=None, marks=None
) -> TestReading:
    """Store a reading with what the core concludes from it.

    Args:
        marks: by strip, the marks its grade was ranked from; None where it was graded as a whole.

    Raises:
        RuleViolation: the test is not exposed and washed out yet, or spoiled.
        InvalidInput: a grade, school or size the core cannot take.
    """
    if test.status != StepTest.Status.EXPOSED:
        raise RuleViolation(f"This test is {test.get_status_display()}: it cannot be read.")
    unwashed = next((s for s in test.all_screens() if s.state == State.EXPOSED), None)
    if unwashed:
        raise RuleViolation(f"Wash {unwashed.frame.code} out first, then read it dry against the light.")
    if school not in SCHOOLS:
        raise InvalidInput("Choose one of the three schools.", "school")
    result = read_grades(steps, school, wanted_opening_um, house_settings.current())
    reading = TestReading.objects.create(
        step_test=test,
        school=school,
        wanted_opening_um=wanted_opening_um,
        outcome=result.outcome,
        recommended_s=result.recommended.value,
        read_by=person,
        read_at=timezone.now(),
        photo=photo,
    )
    ReadStep.objects.bulk_create(
        ReadStep(
            reading=reading,
            strip=s.strip,
            time_s=s.time_s,
            grade=s.grade,
            finest_opening_um=s.finest_opening_um,
            thinnest_line_um=s.thinnest_line_um,
            smallest_dot=s.smallest_dot,
            slimy=s.slimy,
            pale=s.pale,
            marks=(marks or {}).get(s.strip),
        )
        for s in steps
    )
    _record_reading(test, person, result)
    return reading


@transaction.atomic
def read_grey_scale(test: StepTest, solid_step: float, school: str, person) -> TestReading:
    """Store the reading of a grey scale: the highest step that stands solid.

    Raises:
        RuleViolation: the test is not a grey scale, not exposed, or not washed out yet.
        InvalidInput: no such step.
    """
    if not test.test_kind.by_solid_step or test.status != StepTest.Status.EXPOSED:
        raise RuleViolation("This is no exposed grey scale.")
    if test.screen.state == State.EXPOSED:
        raise RuleViolation(f"Wash {test.screen.frame.code} out first, then read it dry against the light.")
    settings = house_settings.current()
    result = grey_scale.as_reading(
        test.times_s[0], solid_step, settings, chart_queries.aim_of(test, settings, solid_step)
    )
    reading = TestReading.objects.create(
        step_test=test,
        school=school,
        wanted_opening_um=settings["steptest.wanted_opening_um"],
        outcome=result.outcome,
        recommended_s=result.recommended.value,
        read_by=person,
        read_at=timezone.now(),
        solid_step=solid_step,
    )
    _record_reading(test, person, result)
    return reading


def _record_reading(test: StepTest, person, found) -> None:
    """Put the reading on the record of every screen of the test."""
    outcome = show_seconds(found.recommended.value) if found.usable else found.outcome
    for screen in test.all_screens():
        ledger.record(
            screen.frame.code, "read_test", person, facts={"test": test.pk}, summary=f"{test} read: {outcome}"
        )
