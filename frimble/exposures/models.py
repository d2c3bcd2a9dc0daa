"""Light sources, timed runs, step tests with their readings, the exposure chart, exposures and washouts."""

from frimble.exposures.chart.models import ChartEntries, ChartEntry, ChartWithdrawal
from frimble.exposures.conditions import Setup
from frimble.exposures.lamps.models import Lamp, LampRecord
from frimble.exposures.production.models import Exposure
from frimble.exposures.steptests.factorfilms.models import FactorFilm
from frimble.exposures.steptests.models import (
    ReadStep,
    StepPhoto,
    StepTest,
    TestComparison,
    TestReading,
    TestScreen,
    photo_name,
)
from frimble.exposures.strips.models import ControlStrip
from frimble.exposures.timer.models import Run, Tap

__all__ = [
    "ChartEntries",
    "ChartEntry",
    "ChartWithdrawal",
    "ControlStrip",
    "Exposure",
    "FactorFilm",
    "Lamp",
    "LampRecord",
    "ReadStep",
    "Run",
    "Setup",
    "StepPhoto",
    "StepTest",
    "Tap",
    "TestComparison",
    "TestReading",
    "TestScreen",
    "photo_name",
]
