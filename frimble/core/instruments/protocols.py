"""What the room's instruments are asked for. A real one behind the same protocol may take a simulated one's place.

Each call gets what a simulated instrument needs to stand in for the screen, film or lamp before it (`true_…`, where it
stands, a seed so that the same question is answered alike); a real one measures and leaves that aside. One that does
not answer raises OSError.
"""

from collections.abc import Sequence
from typing import Protocol

from frimble.core.tension.measurement import TensionReading


class Instrument(Protocol):
    """Any of them: its name in a sentence, and whether its readings are made up."""

    name: str
    simulated: bool


class TensionGauge(Instrument, Protocol):
    def read_screen(self, true_n_per_cm: float, seed: int, places: Sequence[str]) -> list[TensionReading]:
        """Two readings in warp and weft at each place, N/cm."""
        ...


class ThicknessGauge(Instrument, Protocol):
    def read_coat(self, true_um: float, seed: int) -> list[float]:
        """A reading at each of five places of a coated screen, µm."""
        ...


class Densitometer(Instrument, Protocol):
    def read_film(self, true_dmax: float, true_dmin: float, seed: int) -> tuple[float, float]:
        """(Dmax, Dmin) in transmission."""
        ...


class Hygrometer(Instrument, Protocol):
    def read_cabinet(self, seed: int) -> tuple[float, float]:
        """Temperature in °C and relative humidity, 0..1."""
        ...


class LightMeter(Instrument, Protocol):
    def read_light(self, seed: int, geometry: str, distance_mm: float, hours: float) -> float:
        """mW/cm² in the middle of the glass."""
        ...

    def read_field(self, seed: int, geometry: str, distance_mm: float) -> list[list[float]]:
        """Three rows of three readings over the glass, mW/cm²."""
        ...
