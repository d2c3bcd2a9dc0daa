"""Tension that falls as the sum of two exponentials and by use: whether the day of crossing is held, of young meshes too."""

import math
from dataclasses import dataclass

import numpy as np

from frimble.core.tension import loss
from frimble.core.tension.loss import TensionObservation

_SHOPS, _OTHERS, _SEED, _DAYS = 60, 12, 51_000, 540


@dataclass(frozen=True)
class Mesh:
    """Fresh N/cm; what it loses quickly and slowly, N/cm and days; loss a cycle; cycles a day."""

    fresh: float
    quick: tuple[float, float]
    slow: tuple[float, float]
    a_cycle: float
    pace: float

    def at(self, days: float) -> float:
        fallen = sum(size * (1 - math.exp(-days / time)) for size, time in (self.quick, self.slow))
        return self.fresh - fallen - self.a_cycle * self.pace * days


def _mesh(rng, fresh, pace) -> Mesh:
    return Mesh(
        float(rng.normal(fresh, 1.2)),
        (float(rng.uniform(0.8, 2.2)), float(rng.uniform(1, 5))),
        (float(rng.uniform(1.0, 3.5)), float(rng.uniform(60, 240))),
        float(rng.uniform(0.01, 0.06)),
        pace * math.exp(rng.normal(0, 0.45)),
    )


def _history(mesh, days, rng) -> list[TensionObservation]:
    return [
        TensionObservation(d, round(mesh.pace * d), mesh.at(d) + rng.normal(0, 0.4)) for d in sorted(days) if d <= _DAYS
    ]


def one_shop(seed: int, young: bool, settings) -> bool | None:
    """Whether the interval holds the true day of crossing; None where it crossed before it was looked at."""
    rng = np.random.default_rng(seed)
    fresh, pace = rng.uniform(24, 28), rng.uniform(0.03, 0.25)
    others = [_mesh(rng, fresh, pace) for _ in range(_OTHERS)]
    belief = loss.shop_belief([_history(m, rng.uniform(0.5, 360, 6), rng) for m in others], settings)
    mine = _mesh(rng, fresh, pace)
    days = rng.uniform(0.5, 13, 3) if young else np.r_[rng.uniform(0.5, 13, 2), rng.uniform(30, 120, 3)]
    history = _history(mine, days, rng)
    now = max(days)
    kind_pace = float(np.mean([m.pace for m in others]))
    expected, spread = loss.pace(round(mine.pace * now), now, kind_pace, settings)
    limit = settings["tension.poor_below"]
    if history[-1].n_per_cm < limit:
        return None
    ahead = np.arange(0, _DAYS, 1.0)
    below = [d for d in ahead if mine.at(now + d) < limit]
    true = below[0] if below else math.inf
    crossing = loss.forecast(history, belief, settings, expected, limit, spread).crossing
    low, high = crossing.low or 0.0, math.inf if crossing.high is None else crossing.high
    return (crossing.low is None and true == math.inf) or low - 1 <= true <= high + 1


def figures(settings) -> str:
    lines = [f"tension of two exponentials and use, {_SHOPS} shops: the 90 % interval holds the day of crossing"]
    for young in (True, False):
        held = [h for k in range(_SHOPS) if (h := one_shop(_SEED + k, young, settings)) is not None]
        lines.append(
            f"  {'under two weeks' if young else 'of some months'}: {np.mean(held):.0%} of {len(held)} (63 % before)"
        )
    return "\n".join(lines)
