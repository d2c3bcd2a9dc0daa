"""What two step tests say of each other, kept for a question."""

from django.utils import timezone

from frimble.exposures.models import StepTest, TestComparison
from frimble.exposures.steptests.comparison.queries import compare


def keep(one: StepTest, other: StepTest, question: str, person) -> TestComparison:
    """Keep what two tests say of each other for a question."""
    comparison = compare(one, other)
    return TestComparison.objects.create(
        question=question,
        one=one,
        other=other,
        verdict=comparison.factor.verdict,
        reason=comparison.factor.reason[:400],
        by=person,
        at=timezone.now(),
    )
