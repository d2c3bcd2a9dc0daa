"""The wash belongs to the step test: how one was washed out against how it was to be."""

from frimble.core.conclusions import Settings
from frimble.core.units import show_seconds


def against_protocol(washed_s: tuple[float, float], planned_s: tuple[float, float], settings: Settings) -> str:
    """What a wash that was not the planned one did to the reading, in words; empty where it was kept.

    Args:
        washed_s, planned_s: (soak, rinse), s.
    """
    within = settings["wash.alike_within"]
    for name, real, planned in zip(("soaked", "rinsed"), washed_s, planned_s, strict=True):
        if abs(real - planned) > within * max(planned, 1.0):
            longer = real > planned
            departure = f"{name} {show_seconds(real)} and not {show_seconds(planned)}"
            effect = (
                "takes half-cured steps away, so full cure reads late"
                if longer
                else ("leaves half-cured steps standing, so full cure reads early")
            )
            more = "more" if longer else "less"
            return f"It was {departure}: washing {more} {effect}. Compare it only with tests washed alike."
    return ""
