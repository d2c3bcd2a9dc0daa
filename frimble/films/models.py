"""Film systems with their densities, and film positives with their checks."""

from frimble.films.checks.models import Judgement, ScanCheck, scan_name
from frimble.films.library.models import Positive, TouchUp
from frimble.films.processes.models import DensityReading, FilmSystem

__all__ = ["DensityReading", "FilmSystem", "Judgement", "Positive", "ScanCheck", "TouchUp", "scan_name"]
