"""What a coat formula comes to before it is laid: deposit on press, drying, exposure, and the order of a run."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from frimble.core.coating.formula import CoatFormula
from frimble.core.conclusions import Conclusion, Settings
from frimble.core.exposure.light.dose import stencil_factor
from frimble.core.mesh.geometry import MeshGeometry
from frimble.core.verdicts import NoVerdict, TimeRests


def wet_deposit(mesh: MeshGeometry, eom: Conclusion) -> Conclusion:
    """Wet ink on the goods, µm = cm³/m²: the mesh's volume and, at edges and in fine detail, the stencil's height.

    Common practice: broad areas lose part of the stencil's part, since the squeegee presses the mesh into them.
    """
    volume = mesh.ink_volume_cm3_per_m2
    return Conclusion(
        volume + eom.known,
        "µm",
        NoVerdict.NONE,
        f"{volume:.0f} µm from the mesh, up to {eom.known:.0f} µm from the stencil; broad areas lose part of that.",
        eom.rests_on,
        low=volume,
        high=volume + eom.interval.high,
    )


# The trade's rule for a coat built up after drying. Common practice, no source.
_BUILT_UP = (1.25, 1.3)


def exposure_factor(mesh: MeshGeometry, eom: Conclusion, settings: Settings, layers: int = 1) -> Conclusion:
    """Times an ordinary coat's exposure on the same mesh: an estimate to test, not a time.

    Args:
        layers: of the formula; a built-up coat is told beside the trade's own rule.

    Source: as `thickness_time`; an ordinary coat is the house's share of the fabric.
    """
    ordinary = settings["coat.eom_share"] * mesh.fabric_thickness_um
    value, low, high = (stencil_factor(0.0, um - ordinary, settings) for um in eom.interval)
    return Conclusion(
        value,
        "×",
        TimeRests.ESTIMATE,
        f"{eom.known - ordinary:+.0f} µm against an ordinary coat on this mesh.{_trade_words(value, layers)}",
        eom.rests_on,
        low=low,
        high=high,
        next_best_measurement="a step test on this coat",
    )


def _trade_words(value: float, layers: int) -> str:
    """How the trade's rule for built-up coats stands to what light must pass; nothing for a coat laid at once."""
    if layers < 2:
        return ""
    low, high = ((rule ** (layers - 1) - 1) * 100 for rule in _BUILT_UP)
    return (
        f" The trade adds 25–30 % a layer, here +{low:.0f} to +{high:.0f} %; by what light must pass to cure the back it is "
        f"+{(value - 1) * 100:.0f} %. The rule is met on coats whose ordinary time has room to spare: begin a test at the "
        "rule and let it run past the estimate."
    )


@dataclass(frozen=True)
class Turn:
    """A screen waiting for its turn in a run: anything, its formula, minutes its next layer dries, ml it takes."""

    screen: Any
    formula: CoatFormula
    layer: int
    dry_min: float
    ml: float

    @property
    def round_edge(self) -> bool:
        return any(s.round_edge for s in self.formula.layers[self.layer - 1].strokes)


def run_order(turns: Sequence[Turn]) -> list[Turn]:
    """The order of a run: one edge after the other, and what dries longest first, so that all are dry soonest."""
    return sorted(turns, key=lambda t: (t.round_edge, -math.ceil(t.dry_min), str(t.formula)))
