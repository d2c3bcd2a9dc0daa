"""Emulsions, batches, coaters, named coat formulas, coating runs, and the coats laid, measured and dried."""

from frimble.coatings.batches.models import Batch, BatchQuerySet, BatchRecord
from frimble.coatings.coaters.models import Coater, CoaterCheck
from frimble.coatings.coats.models import FILLS, INKS, Coat, CoatDefect
from frimble.coatings.drying.models import AirReading, DryCheck
from frimble.coatings.emulsions.models import Emulsion
from frimble.coatings.planner.models import CoatRecipe
from frimble.coatings.runs.models import CoatingRun, RunScreen
from frimble.coatings.thickness.models import CoatThickness

__all__ = [
    "FILLS",
    "INKS",
    "AirReading",
    "Batch",
    "BatchQuerySet",
    "BatchRecord",
    "Coat",
    "CoatDefect",
    "CoatRecipe",
    "CoatThickness",
    "Coater",
    "CoaterCheck",
    "CoatingRun",
    "DryCheck",
    "Emulsion",
    "RunScreen",
]
