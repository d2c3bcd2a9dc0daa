"""How much wet ink an opaque print wants here, learned from what the press says of its prints."""

from collections.abc import Iterable
from dataclasses import dataclass
from math import ceil, inf, log

import numpy as np

from frimble.core.conclusions import Conclusion, Settings, require_positive
from frimble.core.numbers import counted
from frimble.core.statistics import learning
from frimble.core.verdicts import NoVerdict

# Inks and garments differ from one another, and the house's figure from the truth; ln. From memory, to be learned.
_NOISE_SD, _HOUSE_SD = 0.25, 0.5
_MOST_PASSES = 9


@dataclass(frozen=True)
class PrintedDeposit:
    """Wet ink of one pass, µm, how many passes, and whether the print was opaque."""

    deposit_um: float
    passes: int
    opaque: bool

    @property
    def total_um(self) -> float:
        return self.deposit_um * self.passes


def learn(prints: Iterable[PrintedDeposit], settings: Settings) -> learning.Belief:
    """What is believed of ln(wet ink that covers, µm).

    An opaque print says that less would have done, a thin one that more was wanted; neither says how much.
    """
    belief = learning.prior([log(settings["press.opaque_um"])], [_HOUSE_SD], _NOISE_SD)
    seen = [p for p in prints if p.total_um > 0]
    if not seen:
        return belief
    totals = np.log([p.total_um for p in seen])
    opaque = np.array([p.opaque for p in seen])
    low, high = np.where(opaque, -inf, totals), np.where(opaque, totals, inf)
    return learning.learn_between(belief, np.ones((len(seen), 1)), low, high)


def passes_to_cover(deposit_um: float, belief: learning.Belief) -> Conclusion:
    """Passes until a print covers, with the interval that nine in ten prints lie in.

    Raises:
        InvalidInput: no deposit.
    """
    require_positive(deposit_um, "The wet deposit, in µm,", "deposit_um")
    wanted = learning.predict(belief, [1.0]).exp()
    low, middle, high = (max(1, ceil(v / deposit_um - 1e-9)) for v in (wanted.low, wanted.value, wanted.high))
    records = belief.records
    rests_on = counted(records, "print") + " here" if records else "common practice"
    if middle > _MOST_PASSES:
        passes = f"more than {_MOST_PASSES} passes"
    else:
        passes = counted(middle, "pass", "passes") + f" of {deposit_um:.0f} µm"
    often = f" ({low} to {high} in nine of ten)" if high > low else ""
    return Conclusion(
        middle,
        "passes",
        NoVerdict.NONE,
        f"An opaque print wants about {wanted.value:.0f} µm of wet ink: {passes}{often}.",
        rests_on,
        low=low,
        high=high,
    )
