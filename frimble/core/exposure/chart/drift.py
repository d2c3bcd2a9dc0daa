"""Drift: the control strip on every production screen, its chart, and how far a time may follow it.

A control strip is a short grey scale: the highest step that stands solid is read, √2 of light from step to step.
Source: NIST/SEMATECH e-Handbook of Statistical Methods, 6.3.2 (control charts, EWMA).
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from frimble.core.conclusions import Conclusion, Settings
from frimble.core.exposure.steptest.greyscale import LIGHT_A_STEP
from frimble.core.statistics.change import LevelChange, level_changes
from frimble.core.statistics.control import Chart, Signal, ewma
from frimble.core.statistics.normal import Z_90
from frimble.core.verdicts import DriftVerdict

# The first strips after a calibration say what they read at a right time: half of them, within these numbers.
_BASELINE = (3, 10)


@dataclass(frozen=True)
class Baseline:
    """What strips read at a right time: the mean of the first so many after a calibration, and its standard error."""

    step: float
    sd: float
    strips: int


@dataclass(frozen=True)
class Drift:
    """The chart of a lamp and emulsion, what it says last, and by what factor to change the time meanwhile."""

    chart: Chart
    signal: Signal | None
    factor: Conclusion


def baseline_of(steps_read: Sequence[float], settings: Settings) -> Baseline | None:
    """What a right time reads, from the strips since a calibration, oldest first; None while there are too few.

    Which step that is belongs to the lamp, the coat and the strip: a house's usual step says nothing of it.
    """
    fewest, most = _BASELINE
    count = max(fewest, min(most, len(steps_read) // 2))
    if len(steps_read) < count:
        return None
    return Baseline(sum(steps_read[:count]) / count, settings["drift.sigma_steps"] / math.sqrt(count), count)


def drift_of(steps_read: Sequence[float], settings: Settings, baseline: Baseline | None = None) -> Drift | None:
    """What the control strips say, oldest first; None while there are too few.

    Args:
        steps_read: highest solid step on each screen. baseline: what they are held against; by default the first of
            themselves, which are then not judged.

    A strip is read in whole steps: a change is told when it explains the strips so much better than chance does.
    """
    if len(steps_read) < settings["drift.fewest"]:
        return None
    own = None if baseline else baseline_of(steps_read, settings)
    held = baseline or own
    if held is None:
        return None
    first, before = (_BASELINE[0], None) if own else (0, (held.step, held.sd))
    values, sigma = tuple(map(float, steps_read)), settings["drift.sigma_steps"]
    changes = level_changes(values, sigma, first, before)
    wanted = settings["drift.evidence"]
    signals = tuple(Signal(at, _words(c)) for at, c in enumerate(changes) if c and c.evidence >= wanted)
    chart = Chart(values, held.step, sigma, signals, ewma(values, held.step))
    last = len(values) - 1
    signal = next((s for s in signals if s.at == last), None)
    return Drift(chart, signal, _factor(changes[last] if signal else None, settings))


def _words(change: LevelChange) -> str:
    return f"{abs(change.moved):.1f} steps {'more' if change.moved > 0 else 'less'} light since strip {change.at + 1}"


def _factor(change: LevelChange | None, settings: Settings) -> Conclusion:
    """The time's factor while a change stands, from the mean since, within the house's bounds; 1 without one."""
    if change is None:
        return Conclusion(
            1.0,
            "×",
            DriftVerdict.STEADY,
            "The control strips show nothing that chance does not explain.",
            "measured here",
        )
    most = 1 + settings["drift.most_change"]
    raw = LIGHT_A_STEP**-change.moved
    value = min(max(raw, 1 / most), most)
    spread = LIGHT_A_STEP ** (Z_90 * change.sd)
    held = f" Held to ×{value:.2f}: more than that wants a step test, not a correction." if value != raw else ""
    reason = (
        f"The strips read {_words(change)} of those charted, ±{Z_90 * change.sd:.1f}, which chance hardly explains: "
        f"×{raw:.2f}.{held}"
    )
    return Conclusion(
        value, "×", DriftVerdict.RECALIBRATE, reason, "measured here", value / spread, value * spread, "a step test"
    )
