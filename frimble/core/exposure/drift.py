"""Drift: the control strip on every production screen, its chart, and how far a time may follow it.

A control strip is a short grey scale: the highest step that stands solid is read, √2 of light from step to step.
Source: NIST/SEMATECH e-Handbook of Statistical Methods, 6.3.2 (control charts, EWMA).
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from frimble.core.conclusion import Conclusion
from frimble.core.controlchart import Chart, Signal, ewma, signals
from frimble.core.exposure.greyscale import LIGHT_A_STEP


@dataclass(frozen=True)
class Drift:
    """The chart of a lamp and emulsion, what it says last, and by what factor to change the time meanwhile."""

    chart: Chart
    signal: Signal | None
    factor: Conclusion


def drift_of(steps_read: Sequence[float], aim: float, standards: Mapping) -> Drift | None:
    """What the control strips say, oldest first; None while there are too few.

    Args:
        steps_read: highest solid step on each screen. aim: the step it should be, as at the last calibration.

    A strip is read in whole steps, so that the house's reading error is the least sigma believed.
    """
    if len(steps_read) < standards["drift.fewest"]:
        return None
    sigma = standards["drift.sigma_steps"]
    weighted = ewma(steps_read, aim)
    chart = Chart(tuple(map(float, steps_read)), aim, sigma, tuple(signals(steps_read, aim, sigma, weighted)), weighted)
    last = len(steps_read) - 1
    signal = next((s for s in chart.signals if s.at == last), None)
    return Drift(chart, signal, _factor(weighted[-1] - aim, sigma, signal, standards))


def _factor(off: float, sigma: float, signal: Signal | None, standards: Mapping) -> Conclusion:
    """The time's factor while a signal stands, within the house's bounds; 1 while chance explains what is seen."""
    if signal is None:
        return Conclusion(
            1.0, "×", "steady", "The control strips show nothing that chance does not explain.", "measured here"
        )
    most = 1 + standards["drift.most_change"]
    raw = LIGHT_A_STEP**-off
    value = min(max(raw, 1 / most), most)
    spread = LIGHT_A_STEP ** (1.64 * sigma * math.sqrt(0.3 / 1.7))
    held = f" Held to ×{value:.2f}: more than that wants a step test, not a correction." if value != raw else ""
    reason = (
        f"The strips read {abs(off):.1f} steps {'more' if off > 0 else 'less'} light than at calibration ({signal.words}), "
        f"so ×{raw:.2f}.{held}"
    )
    return Conclusion(value, "×", "recalibrate", reason, "measured here", value / spread, value * spread, "a step test")
