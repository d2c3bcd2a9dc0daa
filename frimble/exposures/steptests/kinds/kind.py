"""What a kind of step test has to say of itself: its plan, what it asks for, its part of the page, how it is read."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from django import forms

from frimble.core.conclusions import Settings
from frimble.core.exposure.steptest.plan import StepTestPlan


def _no_edges(data: Mapping[str, Any], plan: StepTestPlan, settings: Settings) -> Sequence[float]:
    return ()


@dataclass(frozen=True)
class TestKind:
    """One kind of step test.

    Attributes:
        key: as it is stored. words: as it is shown.
        fields: makes what is asked besides guess, lamp and film, in the order of the page; ticks among them come last.
        plan: the core's plan from what was typed and the lamp's lag, s. Raises InvalidInput or RuleViolation.
        edges: of the card, mm; none where no card moves.
        start: words of the button that begins it.
        by_factors: the steps get shares of one exposure.
        of_several: each of several screens gets a time of its own.
        by_solid_step: read by the highest solid step, not strip by strip.
        suggests: a suggested plan fits it.
    """

    key: str
    words: str
    fields: Callable[[], dict[str, forms.Field]]
    plan: Callable[[Mapping[str, Any], Settings, float], StepTestPlan]
    edges: Callable[[Mapping[str, Any], StepTestPlan, Settings], Sequence[float]] = _no_edges
    start: str = "Go to the timer"
    by_factors: bool = False
    of_several: bool = False
    by_solid_step: bool = False
    suggests: bool = False

    @property
    def part(self) -> str:
        """The template of its plan on the page."""
        return f"exposures/steptests/kinds/{self.key}.html"
