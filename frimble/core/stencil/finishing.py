"""After the wash: how long the stencil dries in this air, and what finishes it for its run."""

from frimble.core.coating.drying import Air, reference_deficit_pa, vapour_pressure_deficit_pa
from frimble.core.conclusions import Conclusion, Settings
from frimble.core.verdicts import NoVerdict

# What blotting and the mesh leave differs from screen to screen: the ends of nine in ten, as a factor. From memory.
_SPREAD = 1.5

# Common practice, no source.
BLOT = (
    "Blot both sides; newspaper or a lint-free wipe inside takes what runs back.",
    "Stand it up in moving air, no coated screen under it: drips open a coat.",
    "Judge it dry: a wet stencil hides pinholes, and filler does not hold on it.",
)
FINISH = (
    "Pinholes: filler on the squeegee side, or tape on the print side where it may not show.",
    "Margins and the frame's inner corner taped, so that no ink runs between frame and mesh.",
    "Images that do not print this time taped over.",
    "The edge of a chip is filled, made anew, or run as it is: decide it, and look at it on the first print.",
)


def drying_minutes(air: Air, settings: Settings) -> Conclusion:
    """Minutes until a blotted stencil is dry: the house's time, by how much faster or slower this air takes water.

    Raises:
        InvalidInput: impossible air.

    Source: drying by vapour pressure deficit, as for coats (ASHRAE Handbook Fundamentals ch. 1).
    """
    deficit = max(vapour_pressure_deficit_pa(air.air_c, air.humidity, settings), settings["dry.least_deficit_pa"])
    minutes = settings["wash.dry_min"] * reference_deficit_pa(settings) / deficit
    return Conclusion(
        minutes,
        "min",
        NoVerdict.NONE,
        f"In air of {air.air_c:g} °C and {air.humidity * 100:.0f} % humidity a blotted stencil is dry in about "
        f"{minutes:.0f} min, nine in ten in {minutes / _SPREAD:.0f} to {minutes * _SPREAD:.0f} min.",
        "the house's drying time and the air last read",
        low=minutes / _SPREAD,
        high=minutes * _SPREAD,
    )
