"""Dose: how light grows with time and falls with distance."""

import math

from frimble.core.conclusions import Settings, require_positive


def dose_mj_cm2(light_mw_cm2: float, time_s: float) -> float:
    """Dose that a metered light gives in a time, mJ/cm².

    Source: SI, radiant exposure is irradiance × time: 1 mW·s/cm² = 1 mJ/cm².
    """
    require_positive(light_mw_cm2, "The light", "light_mw_cm2")
    require_positive(time_s, "Time", "time_s")
    return light_mw_cm2 * time_s


def inverse_square_time(time_s: float, old_distance_mm: float, new_distance_mm: float) -> float:
    """Time for the same dose at another distance from a point lamp, s. An estimate to test, not a calibrated time.

    Source: inverse-square law, irradiance ∝ 1/d².
    """
    require_positive(time_s, "Time", "time_s")
    require_positive(old_distance_mm, "Distance", "old_distance_mm")
    require_positive(new_distance_mm, "Distance", "new_distance_mm")
    return time_s * (new_distance_mm / old_distance_mm) ** 2


def stencil_factor(fabric_um: float, eom_um: float, settings: Settings) -> float:
    """Factor on the time between two stencils that differ by so much fabric and so much emulsion over it, µm.

    Threads pass light on: fabric counts for the house's share of as much emulsion. An estimate to test.

    Source: as `thickness_time`.
    """
    return math.exp((settings["exposure.fabric_share"] * fabric_um + eom_um) / settings["coat.penetration_um"])


def thickness_time(time_s: float, growth_um: float, penetration_um: float) -> float:
    """Time to cure through a stencil thicker by `growth_um`, s. An estimate to test, not a calibrated time.

    Source: Jacobs, Rapid Prototyping & Manufacturing (1992), working curve, E = Ec·exp(C / Dp).
    """
    require_positive(time_s, "Time", "time_s")
    require_positive(penetration_um, "Penetration depth", "penetration_um")
    return time_s * math.exp(growth_um / penetration_um)
