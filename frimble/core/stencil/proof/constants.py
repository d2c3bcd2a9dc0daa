"""What a proof rests on: how fast a coat cures here, how far light spreads in it, how black the film is."""

import math
from dataclasses import dataclass, replace
from enum import StrEnum

from frimble.core.conclusions import Settings
from frimble.core.exposure.light.dose import stencil_factor
from frimble.core.mesh.geometry import MeshGeometry, geometry
from frimble.core.simulation.screen.light import Exposure, exposure, slit_with
from frimble.core.statistics.interval import Interval
from frimble.core.units import show_seconds

# The mesh of an ordinary coat.
_ORDINARY = (43, 80)
# A spread beyond these is no coat's: the window's end was told by something else. From memory.
_SPREADS_UM = (4.0, 150.0)


class Cures(StrEnum):
    """Which end of what is known of the cure a proof is made for."""

    USUALLY = "usually"
    FAST = "fast"
    SLOWLY = "slowly"


@dataclass(frozen=True)
class ProofConstants:
    """What is known of a coat, its light and its film, whatever time is given.

    Attributes:
        full_s: full cure with its interval. cure_over_gel: of it over the gel. thickness_um: of the whole coat.
        over_mesh_um: of it over the mesh. dmax, dmin: of the film in UV. spread_um: of the light, a standard deviation.
        rests_on: a sentence for each.
    """

    full_s: Interval
    cure_over_gel: float
    thickness_um: float
    over_mesh_um: float
    dmax: float
    dmin: float
    spread_um: float
    rests_on: tuple[str, ...]

    def light(self, time_s: float, cures: Cures = Cures.USUALLY) -> Exposure:
        """The exposure of a time.

        Raises:
            InvalidInput: a time or a coat that cannot be.
        """
        full = {Cures.USUALLY: self.full_s.value, Cures.FAST: self.full_s.low, Cures.SLOWLY: self.full_s.high}[cures]
        return exposure(
            thickness_um=self.thickness_um,
            over_mesh_um=self.over_mesh_um,
            time_s=time_s,
            full_s=full,
            gel_s=full / self.cure_over_gel,
            dmax=self.dmax,
            dmin=self.dmin,
            spread_um=self.spread_um,
        )

    def with_coat(self, over_mesh_um: float, settings: Settings) -> "ProofConstants":
        """With another thickness over the mesh: the gel stays, full cure takes the longer the thicker it is."""
        longer = math.exp((over_mesh_um - self.over_mesh_um) / settings["coat.penetration_um"])
        return replace(
            self,
            full_s=Interval(*(v * longer for v in self.full_s)),
            cure_over_gel=self.cure_over_gel * longer,
            thickness_um=self.thickness_um - self.over_mesh_um + over_mesh_um,
            over_mesh_um=over_mesh_um,
        )


def usual_spread_um(yellow: bool, settings: Settings) -> float:
    """How far light spreads sideways in a coat, standard deviation, µm: a white thread scatters it farther."""
    return float(settings["exposure.spread_yellow_um" if yellow else "exposure.spread_white_um"])


def constants(
    mesh: MeshGeometry,
    yellow: bool,
    over_mesh_um: float,
    full_s: Interval,
    closes_s: float | None,
    density: tuple[float, float],
    settings: Settings,
    said: tuple[str, ...] = (),
) -> ProofConstants:
    """What a proof rests on.

    Args:
        over_mesh_um: emulsion over the mesh. full_s: full cure. closes_s: when the finest wanted detail closes, which
            tells how far light spreads here; None where nobody has seen it. density: UV, black and clear.
        said: what full cure and density rest on.
    """
    ratio = _cure_over_gel(mesh, over_mesh_um, settings)
    house = usual_spread_um(yellow, settings)
    learned = None if closes_s is None else _spread(closes_s, full_s.value / ratio, density, settings)
    spread = house if learned is None else learned
    detail = settings["steptest.wanted_opening_um"]
    where = (
        f"Light spreads by {spread:.0f} µm: {detail:g} µm closed at {show_seconds(closes_s)} here."
        if learned is not None and closes_s is not None
        else f"Light spreads by {spread:.0f} µm, the house's figure for {'yellow' if yellow else 'white'} thread."
    )
    thickness = mesh.fabric_thickness_um + over_mesh_um
    rests = (*said, f"Full cure takes {ratio:.1f} × the gel, from the coat's thickness.", where)
    return ProofConstants(full_s, ratio, thickness, over_mesh_um, *density, spread, rests)


def _cure_over_gel(mesh: MeshGeometry, over_mesh_um: float, settings: Settings) -> float:
    """Of this coat: its logarithm grows with what the light must pass, from the house's figure for an ordinary coat.

    Source: Jacobs (1992), working curve: full cure over gel is exp(H / Dp).
    """
    usual = geometry(*_ORDINARY, settings)
    ordinary = stencil_factor(
        usual.fabric_thickness_um, settings["coat.eom_share"] * usual.fabric_thickness_um, settings
    )
    this = stencil_factor(mesh.fabric_thickness_um, over_mesh_um, settings)
    return float(settings["exposure.cure_over_gel"] ** (math.log(this) / math.log(ordinary)))


def _spread(closes_s: float, gel_s: float, density: tuple[float, float], settings: Settings) -> float | None:
    """The spread at which the finest wanted opening just gels in its middle at that time; None where none does.

    Source: the middle of a slit, see `simulation.screen.light.slit_with`.
    """
    leak = 10 ** -(density[0] - density[1])
    if not leak < gel_s / closes_s < 1:
        return None
    spread = settings["steptest.wanted_opening_um"] / slit_with(gel_s / closes_s, 1.0, leak)
    return float(spread) if _SPREADS_UM[0] <= spread <= _SPREADS_UM[1] else None
