"""Emulsion: how much of a mixed batch's life is used."""

from collections.abc import Mapping

from frimble.core.conclusion import Conclusion, OutOfRange, require_between

KINDS = {"diazo": "diazo", "dual": "dual-cure", "photopolymer": "photopolymer"}


def life_days(kind: str, kept_c: float, standards: Mapping) -> float:
    """Life of a mixed batch kept at `kept_c`, days; it shrinks by Q10 for each 10 °C above room temperature."""
    if kind not in KINDS:
        raise OutOfRange(f"“{kind}” is not an emulsion kind: {', '.join(KINDS)}.", "kind")
    coldest, hottest = standards["emulsion.coldest_c"], standards["emulsion.hottest_c"]
    require_between(kept_c, coldest, hottest, "The temperature it was kept at, in °C,", "kept_c")
    shift = (standards["emulsion.room_c"] - kept_c) / 10
    return standards[f"emulsion.life_{kind}_days"] * standards["emulsion.q10"] ** shift


def batch_age(kind: str, age_days: float, kept_c: float, standards: Mapping) -> Conclusion:
    """Share of a batch's life that is used, with a verdict: fresh, ageing or past its life.

    Args:
        age_days: days since mixed (since opened for photopolymer); for a topped-up blend, of its oldest part.
        kept_c: temperature it was kept at, °C.

    Raises:
        OutOfRange: an unknown kind, a batch mixed in the future, or an impossible temperature.
    """
    if age_days < 0:
        raise OutOfRange("This batch is dated in the future: check when it was mixed.", "mixed_at")
    life = life_days(kind, kept_c, standards)
    used = age_days / life
    left = life - age_days
    told = f"{_days(age_days)} old, kept at {kept_c:g} °C: about {life:.0f} days of life"
    if used > 1:
        verdict = "past its life"
        reason = f"{told}, over by {_days(-left)}. It may not harden or not wash out. Mix a new batch and test again."
    elif used >= standards["emulsion.ageing_share"]:
        verdict = "ageing"
        reason = f"{told}, {_days(left)} left. Its exposure has moved: test again before fine work."
    else:
        verdict, reason = "fresh", f"{told}, {_days(left)} left."
    return Conclusion(
        used, "of life", verdict, reason, "house default for the kind",
        next_best_measurement="" if verdict == "fresh" else "a step test with this batch",
    )  # fmt: skip


def _days(days: float) -> str:
    whole = max(0, round(days))
    return "1 day" if whole == 1 else f"{whole} days"
