"""How long hands take for a step here: house settings, and the time between one person's records."""

from collections.abc import Sequence
from math import log

import numpy as np

from frimble.core.conclusions import Conclusion, Settings
from frimble.core.numbers import counted
from frimble.core.statistics import learning
from frimble.core.units import show_minutes
from frimble.core.verdicts import NoVerdict

# How far a room's usual time lies from the house's figure, and one time from the next; ln. From memory.
_HOUSE_SD, _NOISE_SD = 0.5, 0.4
# Between two records lies a pause, not work, where it is longer than so many times the house's figure; a record that
# follows at once was made up for later.
_PAUSE, _AT_ONCE = 3.0, 0.2


def is_work(gap_min: float, house_min: float) -> bool:
    """Whether the time between two records of one person is that of the second one's work."""
    return _AT_ONCE * house_min <= gap_min <= _PAUSE * house_min


def usual_minutes(key: str, gaps_min: Sequence[float], settings: Settings) -> Conclusion:
    """What a step takes a pair of hands here, min, with the interval that nine in ten lie in.

    Args:
        key: of the house setting it begins from. gaps_min: times between two records of one person, the second of them
            of this step; pauses among them are left out.
    """
    house = settings[key]
    worked = [gap for gap in gaps_min if is_work(gap, house)]
    belief = learning.prior([log(house)], [_HOUSE_SD], _NOISE_SD)
    if worked:
        belief = learning.learn(belief, np.ones((len(worked), 1)), np.log(worked))
    found = learning.predict(belief, [1.0])
    minutes = found.exp()
    here = f"{counted(len(worked), 'time', 'times')} here, {found.prior_share * 100:.0f} % house setting"
    return Conclusion(
        minutes.value,
        "min",
        NoVerdict.NONE,
        f"About {show_minutes(minutes.value)}; nine in ten in {show_minutes(minutes.low)} to "
        f"{show_minutes(minutes.high)}.",
        here if worked else "house setting",
        low=minutes.low,
        high=minutes.high,
    )
