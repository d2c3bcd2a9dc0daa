"""The sun without a meter: what hour and sky tell of its light, with little confidence.

Source: Cooper (1969), solar declination; spherical trigonometry for the sun's height.
"""

import math
from dataclasses import dataclass
from datetime import datetime

from frimble.core.conclusions import RuleViolation
from frimble.core.exposure.chart.production import Factor

# Share of a clear sky's ultraviolet that comes through. From memory: thin cloud hardly matters, overcast takes most.
SKIES = {"clear": 1.0, "thin cloud": 0.85, "broken cloud": 0.65, "overcast": 0.3}
# Below this height the light changes with every minute and is mostly red.
_LOWEST_DEG = 12.0
# Ultraviolet falls a little faster than the sine of the sun's height. From memory.
_POWER = 1.25
# Nine times in ten the true factor lies within this of the one from hour and sky.
_WITHIN = 1.8


@dataclass(frozen=True)
class SunAt:
    """The sun when it was used: local time, and the sky by its key; latitude in degrees, north positive."""

    at: datetime
    sky: str
    latitude_deg: float

    @property
    def height_deg(self) -> float:
        """Height over the horizon, degrees, taking the clock for the sun's own time."""
        day = self.at.timetuple().tm_yday
        declination = math.radians(23.45) * math.sin(2 * math.pi * (284 + day) / 365)
        hour = math.radians(15 * (self.at.hour + self.at.minute / 60 - 12))
        latitude = math.radians(self.latitude_deg)
        sine = math.sin(latitude) * math.sin(declination) + math.cos(latitude) * math.cos(declination) * math.cos(hour)
        return math.degrees(math.asin(sine))

    @property
    def share(self) -> float:
        """Of the ultraviolet that a clear sky gives with the sun overhead."""
        return SKIES[self.sky] * math.pow(math.sin(math.radians(self.height_deg)), _POWER)


def unmetered_factor(then: SunAt, now: SunAt) -> Factor:
    """Factor on a time found under the sun, from hour and sky then and now.

    Raises:
        RuleViolation: the sun stands too low, now or then, for its light to be told so.
    """
    for sun, when in ((then, "then"), (now, "now")):
        if sun.height_deg < _LOWEST_DEG:
            raise RuleViolation(
                f"The sun stood {sun.height_deg:.0f}° high {when}: so low its light cannot be told without a meter. Wait "
                "for a higher sun, or meter it."
            )
    factor = then.share / now.share
    why = (
        f"{now.sky}, sun {now.height_deg:.0f}° high, against {then.sky}, {then.height_deg:.0f}°, when it was tested; nobody "
        "metered, so this is little sure: a control strip on every screen"
    )
    return Factor(factor, factor / _WITHIN, factor * _WITHIN, "sun by hour and sky", why)
