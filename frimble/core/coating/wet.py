"""Wet emulsion: how much a layer brings to the mesh, what a coater holds, what a run of screens wants poured."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from frimble.core.coating.formula import CoatFormula
from frimble.core.coating.thickness import CoatConditions, ordinary_um
from frimble.core.conclusions import Conclusion, Settings, require_between, require_positive
from frimble.core.mesh.geometry import MeshGeometry
from frimble.core.verdicts import Stock

FILLS = {"quarter": 0.25, "half": 0.5, "two-thirds": 2 / 3, "full": 1.0}
# What a scraping layer still leaves, µm.
_LEAST_UM = 1.0
FILL_WORDS = {"quarter": "a quarter", "half": "half", "two-thirds": "two thirds", "full": "full"}


@dataclass(frozen=True)
class RunNeed:
    """Emulsion for a run: what stays on the screens, what to pour so that it is as full at the last."""

    laid: Conclusion
    pour_ml: float
    back_ml: float


def laid_um(
    formula: CoatFormula, layers: int, mesh: MeshGeometry, settings: Settings, fill: float | None = None
) -> float:
    """Wet emulsion that the first so many layers lay, µm = ml/m²: so much as dries to a filled mesh and what stands over it.

    Args:
        fill: of the coater, a share; the house's where None.

    By mass: the emulsion of common solids that leaves mesh volume and emulsion over mesh when its water is gone.
    """
    if layers == 0:
        return 0.0
    begun = replace(formula, layers=formula.layers[:layers])
    solids = settings["coat.solids"]
    over = ordinary_um(CoatConditions(begun, mesh.fabric_thickness_um, solids, fill), settings)
    return float((mesh.ink_volume_cm3_per_m2 + over) / solids)


def wet_um(
    formula: CoatFormula, layer: int, mesh: MeshGeometry, settings: Settings, fill: float | None = None
) -> float:
    """Wet emulsion that one layer lays on those before it, µm = ml/m²; `layer` is 1 for the first, which fills the mesh."""
    after, before = (laid_um(formula, n, mesh, settings, fill) for n in (layer, layer - 1))
    return max(after - before, _LEAST_UM)


def screen_ml(
    formula: CoatFormula,
    mesh: MeshGeometry,
    width_mm: float,
    height_mm: float,
    settings: Settings,
    fill: float | None = None,
) -> float:
    """Wet emulsion that all layers of a formula leave on the coated part of a screen, ml.

    Raises:
        InvalidInput: a side is not positive.
    """
    area = require_positive(width_mm, "The coated width, in mm,", "width_mm")
    area *= require_positive(height_mm, "The coated height, in mm,", "height_mm")
    return laid_um(formula, len(formula.layers), mesh, settings, fill) * area / 1e6


def coater_ml(length_mm: float, fill: str, settings: Settings) -> float:
    """What a coater of this length holds when filled so far, ml.

    Raises:
        InvalidInput: a length no coater has.
    """
    require_between(
        length_mm, settings["coater.least_mm"], settings["coater.most_mm"], "A coater's length, in mm,", "length_mm"
    )
    return float(length_mm * settings["coater.trough_mm2"] * FILLS[fill] / 1000)


def run_need(screens_ml: Sequence[float], length_mm: float, fill: str, settings: Settings) -> RunNeed:
    """Emulsion for several screens in one go.

    Args:
        screens_ml: what each screen takes. length_mm, fill: of the coater.

    Returns:
        What stays on the screens with how far the prior may be off, and what to pour; the rest goes back to the batch.
    """
    laid = sum(screens_ml)
    spread = settings["coat.need_spread"]
    held = coater_ml(length_mm, fill, settings)
    need = Conclusion(
        laid,
        "ml",
        Stock.ENOUGH_FOR_ALL,
        f"{_screens(len(screens_ml))} {laid:.0f} ml; the coater holds {held:.0f} ml filled {FILL_WORDS[fill]}.",
        "mesh volume and wet strokes, common practice",
        low=laid / spread,
        high=laid * spread,
        next_best_measurement="poured less returned, written down at the end of each run",
    )
    return RunNeed(need, laid + held, held)


def _screens(number: int) -> str:
    return "1 screen takes" if number == 1 else f"{number} screens take"
