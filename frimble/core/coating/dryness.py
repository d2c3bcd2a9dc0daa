"""Is a coat dry: by touch, by weight, by a moisture meter."""

from collections.abc import Sequence

from frimble.core.conclusions import Conclusion, Settings, require_between, require_positive
from frimble.core.verdicts import Dryness

METHODS = {"touch": "gloved fingertip", "weight": "two weighings", "meter": "moisture meter"}

# What a damp gloved fingertip finds on a coat that is not dry through.
DAMP_SIGNS = {"tack": "it grabs the glove", "slime": "slime comes off on the glove", "soft": "a nail marks it",
              "dull": "a dull, cooler patch"}  # fmt: skip


def by_touch(signs: Sequence[str]) -> Conclusion:
    """Dry when the fingertip finds none of the signs. Wet inside can look dry outside: weight or a meter tells better.

    Args:
        signs: keys of `DAMP_SIGNS`, or words of one's own.
    """
    seen = [DAMP_SIGNS.get(s, s) for s in signs]
    better = "two weighings 10 min apart, or a moisture meter"
    if seen:
        return Conclusion(
            float(len(seen)),
            "signs",
            Dryness.DAMP,
            f"Damp: {', '.join(seen)}.",
            "measured here",
            next_best_measurement=better,
        )
    return Conclusion(
        0.0,
        "signs",
        Dryness.DRY,
        "No tack, hard and slick to a damp gloved fingertip, no slime.",
        "measured here",
        next_best_measurement=better,
    )


def by_weight(first_g: float, second_g: float, apart_min: float, step_g: float, settings: Settings) -> Conclusion:
    """Dry when a screen's weight no longer falls: two weighings some minutes apart within the scale's step.

    Args:
        first_g, second_g: of frame and coat, g. apart_min: between them. step_g: what the scale can tell.

    Raises:
        InvalidInput: a weight no screen has, weighings that swap, or a scale too coarse to tell.
    """
    require_positive(step_g, "The scale's step, in g,", "step_g")
    for value, field in ((first_g, "first_g"), (second_g, "second_g")):
        require_between(value, 100, 60_000, "A screen's weight, in g,", field)
    least = settings["dry.weighings_min"]
    require_between(apart_min, least, 240, "Minutes between the weighings", "apart_min")
    lost = first_g - second_g
    weighed = f"{lost:+.1f} g lost in {apart_min:g} min; the scale tells {step_g:g} g."
    if lost < -step_g:
        return Conclusion(
            lost,
            "g",
            Dryness.UNSURE,
            f"It grew heavier by {-lost:.1f} g: weigh again, free of drops and drafts.",
            "measured here",
            next_best_measurement="a third weighing",
        )
    if lost > step_g:
        return Conclusion(lost, "g", Dryness.DAMP, f"Still losing water: {weighed}", "measured here")
    return Conclusion(lost, "g", Dryness.DRY, f"Weight no longer falls: {weighed}", "measured here")


def by_meter(percent: float, settings: Settings) -> Conclusion:
    """Dry at or below the house's limit of a moisture meter.

    Raises:
        InvalidInput: a moisture that cannot be.
    """
    require_between(percent, 0, 100, "Moisture, in %,", "percent")
    limit = settings["dry.meter_percent"]
    verdict = Dryness.DRY if percent <= limit else Dryness.DAMP
    return Conclusion(percent, "%", verdict, f"{percent:g} % moisture; dry is {limit:g} % or less.", "measured here")
