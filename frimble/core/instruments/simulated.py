"""The simulated instruments behind the protocols, for a room that has none connected."""

from collections.abc import Sequence

from frimble.core.instruments import densitometer, hygrometer, light_meter, tension_gauge, thickness_gauge
from frimble.core.tension.measurement import TensionReading


class SimulatedTensionGauge:
    name = "simulated tension gauge"
    simulated = True

    def read_screen(self, true_n_per_cm: float, seed: int, places: Sequence[str]) -> list[TensionReading]:
        return tension_gauge.read_screen(true_n_per_cm, seed, places=places)


class SimulatedThicknessGauge:
    name = "simulated thickness gauge"
    simulated = True

    def read_coat(self, true_um: float, seed: int) -> list[float]:
        return thickness_gauge.read_coat(true_um, seed)


class SimulatedDensitometer:
    name = "simulated densitometer"
    simulated = True

    def read_film(self, true_dmax: float, true_dmin: float, seed: int) -> tuple[float, float]:
        return densitometer.read_film(true_dmax, true_dmin, seed)


class SimulatedHygrometer:
    name = "simulated hygrometer"
    simulated = True

    def read_cabinet(self, seed: int) -> tuple[float, float]:
        return hygrometer.read_cabinet(seed)


class SimulatedLightMeter:
    name = "simulated light meter"
    simulated = True

    def read_light(self, seed: int, geometry: str, distance_mm: float, hours: float) -> float:
        return light_meter.read_light(seed, geometry, distance_mm, hours)

    def read_field(self, seed: int, geometry: str, distance_mm: float) -> list[list[float]]:
        return light_meter.read_field(seed, geometry, distance_mm)
