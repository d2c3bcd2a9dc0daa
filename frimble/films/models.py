"""Film processes with their densities, and film positives with their checks."""

from frimble.films.checks.models import Judgement, ScanCheck, scan_name
from frimble.films.library.models import Film, TouchUp
from frimble.films.processes.models import DensityReading, FilmProcess

__all__ = ["DensityReading", "Film", "FilmProcess", "Judgement", "ScanCheck", "TouchUp", "scan_name"]
