"""The drill of a run as it was made, kept for the pages that show it: its picture, its photo, its marks."""

from functools import lru_cache

from frimble.core.training.drill import Drill
from frimble.core.training.skills import drill
from frimble.people import settings as house_settings
from frimble.training.models import DrillRun

# A simulated screen is made in a fifth of a second; a page and its photo ask for the same one.
_KEPT = 16


def drill_of(run: DrillRun) -> Drill:
    """The same run is the same drill, as long as house settings are; nobody may change what they are given."""
    return _made(run.skill, run.level, run.seed, tuple(house_settings.current().items()))


@lru_cache(maxsize=_KEPT)
def _made(skill: str, level: int, seed: int, settings: tuple[tuple[str, object], ...]) -> Drill:
    return drill(skill, level, seed, dict(settings))
