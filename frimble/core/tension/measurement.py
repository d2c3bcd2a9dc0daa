"""Screen tension: what a set of gauge readings says."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from frimble.core.conclusions import Conclusion, InvalidInput, Settings
from frimble.core.tension.limits import poor_below
from frimble.core.verdicts import JobMatch, TensionBand

FIVE_PLACES = ("centre", "upper left", "upper right", "lower right", "lower left")
# A large or hand-stapled frame is measured between them too.
NINE_PLACES = (*FIVE_PLACES, "upper middle", "right middle", "lower middle", "left middle")
# A mesh stretched in-house is measured three times before it is trusted.
STAGES = {"first": "first, off the stretcher", "next_day": "next day", "settled": "settled"}
DIRECTIONS = ("warp", "weft")


@dataclass(frozen=True)
class TensionReading:
    """One press of the gauge: place on the screen, thread direction, N/cm."""

    place: str
    direction: str
    n_per_cm: float


@dataclass(frozen=True)
class TensionSummary:
    """Statistics of one measurement, all N/cm, with the verdict that goes with them."""

    mean: float
    lowest: float
    highest: float
    warp_mean: float
    weft_mean: float
    place_means: Mapping[str, float]
    readings: int
    verdict: Conclusion
    remarks: tuple[str, ...]

    @property
    def range(self) -> float:
        return self.highest - self.lowest

    @property
    def warp_weft_difference(self) -> float:
        return abs(self.warp_mean - self.weft_mean)


def check_reading(n_per_cm: float, settings: Settings, field: str = "n_per_cm") -> float:
    """Return a believable reading, or raise InvalidInput saying what was likely meant."""
    highest = settings["tension.highest"]
    if not 0 < n_per_cm < float("inf"):
        raise InvalidInput(f"Tension must be more than 0 N/cm; {n_per_cm:g} was given.", field)
    if n_per_cm > highest:
        meant = f" Was {n_per_cm / 10:.1f} meant?" if n_per_cm / 10 <= highest else ""
        raise InvalidInput(f"{n_per_cm:g} N/cm is more than any mesh holds (up to {highest:g}).{meant}", field)
    return n_per_cm


def summarise(readings: Sequence[TensionReading], settings: Settings, frame_kind: str = "") -> TensionSummary:
    """Mean, range, warp–weft difference and verdict of one measurement.

    Args:
        readings: at least one warp and one weft reading, N/cm. frame_kind: what limits go by.

    Raises:
        InvalidInput: a reading is absurd, or a thread direction was not measured.
    """
    for reading in readings:
        check_reading(reading.n_per_cm, settings, f"{reading.place} {reading.direction}")
    by_direction = {d: [r.n_per_cm for r in readings if r.direction == d] for d in DIRECTIONS}
    for direction, values in by_direction.items():
        if not values:
            raise InvalidInput(f"Measure {direction} too: tension differs between the two directions.", direction)
    values = [r.n_per_cm for r in readings]
    mean = sum(values) / len(values)
    places = {
        place: _mean([r.n_per_cm for r in readings if r.place == place])
        for place in dict.fromkeys(r.place for r in readings)
    }
    warp, weft = _mean(by_direction["warp"]), _mean(by_direction["weft"])
    verdict, remarks = (
        judge(mean, min(values), max(values), settings, frame_kind),
        _remarks(len(places), len(values), settings),
    )
    if uneven := _outweighs(places, warp, weft, settings):
        # A mesh slack all over is that first.
        slack = verdict.verdict == TensionBand.POOR
        verdict, remarks = (verdict, (uneven.reason, *remarks)) if slack else (uneven, remarks)
    return TensionSummary(
        mean,
        min(values),
        max(values),
        warp,
        weft,
        places,
        len(values),
        verdict,
        remarks,
    )


def judge(mean: float, lowest: float, highest: float, settings: Settings, frame_kind: str = "") -> Conclusion:
    """The band a mean tension falls in on its kind of frame, with the reason. N/cm."""
    poor = poor_below(frame_kind, settings)
    good = max(poor, settings["tension.good_from"])
    best, top = settings["tension.best_from"], settings["tension.best_to"]
    bands = (
        (poor, TensionBand.POOR, f"below {poor:g} the print sinks into the goods: extra flash and pass on opaque work"),
        (
            good,
            TensionBand.WILL_DO,
            f"between {poor:g} and {good:g}: re-tension or keep it for less critical work soon",
        ),
        (best, TensionBand.GOOD, f"between {good:g} and {best:g}"),
        (math.nextafter(top, math.inf), TensionBand.BEST, f"between {best:g} and {top:g}"),
        (
            math.inf,
            TensionBand.HIGH,
            f"above {top:g}: over-tightened mesh tears at an edge or a knock; check its limit",
        ),
    )
    verdict, why = next((verdict, why) for below, verdict, why in bands if mean < below)
    return Conclusion(mean, "N/cm", verdict, f"Mean {mean:.1f} N/cm, {why}.", "measured here", low=lowest, high=highest)


def _outweighs(places: Mapping[str, float], warp: float, weft: float, settings: Settings) -> Conclusion | None:
    """What makes a screen unfit whatever its mean: one slack place, or warp and weft far apart; None without either."""
    mean, slackest = (warp + weft) / 2, min(places, key=lambda place: places[place])
    lowest, highest = places[slackest], max(places.values())
    rest = [v for place, v in places.items() if place != slackest]
    if rest and lowest < (1 - settings["tension.place_within"]) * _mean(rest):
        reason = (
            f"{slackest.capitalize()} stands at {lowest:.1f} N/cm, the rest at {_mean(rest):.1f}: there the print sinks in "
            f"and the image walks. Look at the frame, the glue or the clamp there. Mean {mean:.1f} N/cm."
        )
        return Conclusion(mean, "N/cm", TensionBand.SLACK_PLACE, reason, "measured here", low=lowest, high=highest)
    if abs(warp - weft) > settings["tension.spread_within"]:
        reason = (
            f"Warp {warp:.1f} and weft {weft:.1f} differ by {abs(warp - weft):.1f} N/cm: the image will stretch unevenly. "
            f"Mean {mean:.1f} N/cm."
        )
        return Conclusion(mean, "N/cm", TensionBand.UNEVEN, reason, "measured here", low=lowest, high=highest)
    return None


def match_within_job(means: Mapping[str, float], settings: Settings) -> Conclusion:
    """Whether the screens of one job are near enough in tension. `means` maps screen code to N/cm."""
    if len(means) < 2:
        raise InvalidInput("Two screens at least are needed to compare.", "means")
    slack, tight = min(means, key=lambda code: means[code]), max(means, key=lambda code: means[code])
    difference = means[tight] - means[slack]
    allowed = 2 * settings["tension.match_within"]
    fits = difference <= allowed
    reason = (
        f"{slack} at {means[slack]:.1f} and {tight} at {means[tight]:.1f} N/cm differ by {difference:.1f}; "
        f"screens of one job keep within ±{allowed / 2:g}."
    )
    return Conclusion(difference, "N/cm", JobMatch.MATCH if fits else JobMatch.DIFFER, reason, "measured here")


def far_from_last(mean: float, last: float | None, settings: Settings) -> str:
    """Why a measurement should be looked at once more before it is believed; empty when it is near the last. N/cm."""
    if last is None or abs(mean - last) <= settings["tension.far_from_last"]:
        return ""
    way = "below" if mean < last else "above"
    return (
        f"{mean:.1f} N/cm is {abs(mean - last):.1f} {way} the last measurement of {last:.1f}. Look at the gauge's zero and "
        "measure again; if it is right, say that you are sure."
    )


def _remarks(places: int, count: int, settings: Settings) -> tuple[str, ...]:
    remarks = []
    if places < len(FIVE_PLACES):
        remarks.append(
            f"Measured at {places} of {len(FIVE_PLACES)} places, so less sure: a slack corner could be missed."
        )
    if count < places * len(DIRECTIONS) * settings["tension.readings_at_least"]:
        remarks.append("One reading a place: a second shows a slip of the gauge.")
    return tuple(remarks)


def _mean(values: Sequence[float]) -> float:
    return sum(values) / len(values)
