"""Control strips read in whole steps: false cries, and how soon a change is seen."""

import numpy as np

from frimble.core.exposure.chart import drift

_LAMPS, _SEED = 200, 77_000


def strips(seed: int, settings) -> tuple[bool, int, bool]:
    """Of one lamp's strips in whole steps: whether sixty steady ones cry, how many strips a step less is seen after, and
    whether the change's interval holds it ten strips on."""
    rng = np.random.default_rng(seed)
    centre, spread, at = rng.uniform(5, 9), rng.uniform(0.2, 0.55), int(rng.integers(10, 35))
    read = lambda level, n: np.rint(level + rng.normal(0, spread, n))  # noqa: E731
    cries = bool(drift.drift_of(read(centre, 60), settings).chart.signals)
    fading = np.concatenate([read(centre, at), read(centre - 1, 30)])
    seen = [s.at for s in drift.drift_of(fading, settings).chart.signals if s.at >= at]
    factor = drift.drift_of(fading[: at + 10], settings).factor
    truth = min(drift.LIGHT_A_STEP, 1 + settings["drift.most_change"])
    return cries, seen[0] - at + 1 if seen else 30, factor.low is not None and factor.low <= truth <= factor.high


def figures(settings) -> str:
    cries, lags, holds = zip(*(strips(_SEED + k, settings) for k in range(_LAMPS)), strict=True)
    return (
        f"control strips in whole steps, {_LAMPS} lamps: sixty steady ones cry in {np.mean(cries):.1%} (wanted 5 %), a "
        f"step less is seen after {np.median(lags):.0f} strips, within six in {np.mean(np.array(lags) <= 6):.0%}; its "
        f"interval ten strips on holds {np.mean(holds):.0%}"
    )
