"""A combination with one thing moved: how its working window and its light change with it."""

import math
from dataclasses import dataclass, replace

from frimble.core.exposure.chart.learning import CellFacts, ExposureModel
from frimble.core.statistics.interval import Interval
from frimble.core.stencil.proof.constants import ProofConstants

# Of a predicted change so much is uncertain either way, as a share of its logarithm. From memory.
_DOUBT = 0.3


@dataclass(frozen=True)
class Window:
    """Full cure and the closing of detail, s, and the time in their geometric middle; `closed` where detail goes first."""

    cured: Interval
    closes_s: float

    @property
    def middle_s(self) -> float:
        return math.sqrt(self.cured.value * self.closes_s)

    @property
    def closed(self) -> bool:
        return self.closes_s <= self.cured.value


def moved_window(window: Window, facts: CellFacts, changed: CellFacts, model: ExposureModel) -> Window:
    """The window after facts have changed: as many times longer as the model predicts for the change.

    What was tested here stays what it was; only the change is predicted, so that it widens the interval by its own doubt.
    """
    before, after = model.prediction(facts), model.prediction(changed)
    longer = math.exp(after.cure.value - before.cure.value)
    room = math.exp(after.headroom.value - before.headroom.value)
    # What both predictions have in common cancels out; what is left grows with the change.
    doubt = math.exp(abs(math.log(longer)) * _DOUBT)
    cured = window.cured
    moved = Interval(cured.value * longer, cured.low * longer / doubt, cured.high * longer * doubt)
    return Window(moved, window.closes_s * longer * room)


def moved_constants(known: ProofConstants, window: Window, spread_um: float | None = None) -> ProofConstants:
    """What a proof rests on after the change; `spread_um` where light then spreads otherwise."""
    return replace(known, full_s=window.cured, spread_um=known.spread_um if spread_um is None else spread_um)
