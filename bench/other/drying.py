"""Drying in two stages: how many coats are let go while wet."""

import math
from dataclasses import dataclass

import numpy as np

from frimble.core.coating import drying
from frimble.core.coating.drying import Air, DryFacts, DryingObservation

_SHOPS, _COATS, _SEED = 40, 60, 77_000


@dataclass(frozen=True)
class DryingShop:
    """A coat dries at a constant rate until its skin forms, then as fast as water creeps through what is left of it.

    Source: Treybal, Mass-Transfer Operations, 3rd ed., chapter 12: constant-rate and falling-rate drying.
    """

    rate: float
    skin_at: float
    creep: float
    fan: float
    touch_at: float

    def moisture(self, facts: DryFacts, minutes: float, luck: float, settings) -> float:
        """Water left, as a share of what was laid."""
        deficit = drying.vapour_pressure_deficit_pa(facts.air.air_c, facts.air.humidity, settings)
        blown = self.fan ** {"off": -1, "low": 0, "high": 1}[facts.air.fan]
        constant = (1 - self.skin_at) * facts.water_g_m2 / (self.rate * deficit / 1000 * blown * luck)
        if minutes <= constant:
            return 1 - (1 - self.skin_at) * minutes / constant
        warm = math.exp(0.03 * (facts.air.air_c - 30))
        creep = self.creep * warm * luck / (facts.water_g_m2 / 25) ** 1.5
        return self.skin_at * math.exp(-(minutes - constant) * creep)

    def dry_min(self, facts: DryFacts, luck: float, settings, at: float = 0.03) -> float:
        """Minutes until so little is left."""
        low, high = 0.0, 3000.0
        for _ in range(60):
            middle = (low + high) / 2
            low, high = (middle, high) if self.moisture(facts, middle, luck, settings) > at else (low, middle)
        return high


def drying_shop(rng) -> DryingShop:
    return DryingShop(
        float(rng.uniform(0.12, 0.3)),
        float(rng.uniform(0.2, 0.5)),
        float(rng.uniform(0.05, 0.15)),
        float(rng.uniform(1.1, 1.35)),
        float(rng.uniform(0.02, 0.05)),
    )


def released_wet(seed: int, settings) -> tuple[list[bool], list[bool], list[bool], list[float]]:
    """Of one shop's coats: let go by the middle, by a fingertip and by the hold while wet, the hold over the true time."""
    rng = np.random.default_rng(seed)
    shop, seen, by_middle, by_touch, by_hold, waste = drying_shop(rng), [], [], [], [], []
    for _ in range(_COATS):
        air = Air(float(rng.uniform(24, 38)), float(rng.uniform(0.3, 0.5)), str(rng.choice(list(drying.FANS))))
        facts, luck = DryFacts(float(rng.uniform(8, 55)), air, bool(rng.random() < 0.3)), math.exp(rng.normal(0, 0.1))
        true = shop.dry_min(facts, luck, settings)
        skin = shop.dry_min(facts, luck, settings, at=shop.touch_at)
        expected = drying.drying_minutes(facts, drying.learn(seen, settings), settings).interval
        hold, damp, dry = drying.hold_minutes(expected, settings), 0.0, math.inf
        looks = expected.value * np.cumprod(np.r_[rng.uniform(0.85, 1.05), np.full(6, 1.15)])
        for look in looks[: rng.integers(1, 4)]:
            # A fingertip feels the skin, now and then wrongly.
            feels = look >= skin * math.exp(rng.normal(0, 0.05))
            if feels:
                by_touch.append(look < true)
                dry, hold = look * settings["dry.touch_lag"], min(hold, look + drying.dry_to_touch(look, settings))
                break
            damp, hold = look, look + drying.still_damp(expected, look, settings).hold_min
        seen.append(DryingObservation(facts, damp, dry))
        by_middle.append(expected.value < true)
        by_hold.append(hold < true)
        waste.append(hold / true)
    return by_middle, by_touch, by_hold, waste


def figures(settings) -> str:
    told = [released_wet(_SEED + k, settings) for k in range(_SHOPS)]
    middle, hold, waste = (np.array([t[k] for t in told]) for k in (0, 2, 3))
    touch = np.concatenate([t[1] for t in told])
    return (
        f"drying, two stages, {_SHOPS} shops of {_COATS} coats: released wet by the middle {middle.mean():.1%}, by a "
        f"fingertip {touch.mean():.1%}, held "
        f"{hold.mean():.1%} (wanted under 2 %; worst shop {hold.mean(1).max():.1%}); held over true time, median "
        f"{np.median(waste[:, :10]):.2f} on the first ten, {np.median(waste[:, 30:]):.2f} after thirty"
    )
