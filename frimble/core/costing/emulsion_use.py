"""How much emulsion is really used against what coats are predicted to take, from what was poured."""

from collections.abc import Sequence
from math import sqrt

import numpy as np
from scipy import special

from frimble.core.conclusions import Conclusion
from frimble.core.numbers import counted
from frimble.core.statistics.learning import INTERVAL
from frimble.core.verdicts import NoVerdict

_FEWEST_RUNS = 3


def used_over_predicted(runs: Sequence[tuple[float, float]]) -> Conclusion:
    """How many times its predicted emulsion a coat takes here, with what stays in coater, pail and rag.

    Args:
        runs: for each coating run litres poured and not returned, and litres that its coats were predicted to take.

    Source: Cochran, Sampling Techniques, 3rd ed., section 6.4 (ratio of two means and its standard error).
    """
    told = [(used, predicted) for used, predicted in runs if used > 0 and predicted > 0]
    if len(told) < _FEWEST_RUNS:
        return Conclusion(
            None,
            "×",
            NoVerdict.NONE,
            f"Real use is told from {_FEWEST_RUNS} coating runs with what was poured for them; "
            f"{counted(len(told), 'run has', 'runs have')} both.",
            "nothing measured",
            next_best_measurement="write down what is poured and returned",
        )
    used, predicted = np.array(told).T
    ratio = float(used.sum() / predicted.sum())
    off = used - ratio * predicted
    error = sqrt(float(off @ off) / (len(told) - 1) / len(told)) / float(predicted.mean())
    reach = float(special.stdtrit(len(told) - 1, (1 + INTERVAL) / 2)) * error
    return Conclusion(
        ratio,
        "×",
        NoVerdict.NONE,
        f"Coats take {ratio:.2f} × what is predicted, {max(0.0, ratio - reach):.2f} to {ratio + reach:.2f}.",
        f"poured and returned in {counted(len(told), 'run', 'runs')}",
        low=max(0.0, ratio - reach),
        high=ratio + reach,
    )
