"""What a formula would come to on a mesh, before anything is coated."""

from dataclasses import dataclass

from frimble.coatings.drying import learning as drying_learning
from frimble.coatings.thickness import queries as thickness_queries
from frimble.core.coating import plan as coat_plan
from frimble.core.coating import wet as wet_coat
from frimble.core.coating.drying import Air
from frimble.core.coating.formula import CoatFormula, print_side_share
from frimble.core.conclusions import Conclusion
from frimble.core.mesh.geometry import MeshGeometry


@dataclass(frozen=True)
class Effects:
    """Everything a formula leads to: thickness, deposit, emulsion for one screen, drying of each layer, exposure."""

    formula: CoatFormula
    geometry: MeshGeometry
    eom: Conclusion
    aim_um: tuple[float, float]
    print_share: float
    deposit: Conclusion
    screen_ml: float
    drying: list[Conclusion]
    exposure: Conclusion

    @property
    def share(self) -> float:
        """Emulsion over mesh, of the fabric."""
        return self.eom.value / self.geometry.fabric_thickness_um

    @property
    def dry_min(self) -> float | None:
        """All layers one after another; None when the air dries nothing."""
        minutes = [d.value for d in self.drying]
        return None if None in minutes else sum(minutes)

    @property
    def dry_bounds(self) -> tuple[float, float]:
        return sum(d.low for d in self.drying), sum(d.high for d in self.drying)


def effects(mesh, formula: CoatFormula, emulsion, size_mm, air: Air, settings, *, fill="", person=None) -> Effects:
    """Work everything out for one mesh, emulsion and coated size.

    Raises:
        InvalidInput: impossible air or size.
    """
    geometry = mesh.geometry(settings)
    eom = thickness_queries.expected(mesh, formula, emulsion, settings, fill=fill, person=person)
    known = drying_learning.belief(settings)
    fabric = geometry.fabric_thickness_um
    return Effects(
        formula,
        geometry,
        eom,
        (settings["coat.thin_share"] * fabric, settings["coat.ordinary_share"] * fabric),
        print_side_share(formula, settings),
        coat_plan.wet_deposit(geometry, eom),
        wet_coat.screen_ml(formula, geometry, *size_mm, settings, wet_coat.FILLS.get(fill)),
        [
            drying_learning.expected(mesh, formula, n, emulsion, air, settings, known, fill)
            for n in range(1, len(formula.layers) + 1)
        ],
        coat_plan.exposure_factor(geometry, eom, settings, len(formula.layers)),
    )
