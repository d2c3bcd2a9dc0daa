"""The proof of a film: the stencil to expect, what it will not be, and the finest that opens and stands."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from frimble.core.conclusions import InvalidInput, Settings
from frimble.core.mesh.geometry import MeshGeometry
from frimble.core.simulation.screen.light import Exposure
from frimble.core.simulation.screen.standing import Mask, stencil
from frimble.core.stencil.proof.findings import Cloth, findings
from frimble.core.stencil.proof.kinds import ProofFinding

_MM_PER_INCH = 25.4


@dataclass(frozen=True)
class Proof:
    """What a film will give.

    Attributes:
        open_: (h, w) mask at the film's resolution, 1 where the stencil is open. opened_share: of the film's black.
        findings: what will not be as the film asks.
        finest_open_um: the narrowest slit that opens, None where none does.
        finest_standing_um: the narrowest line of stencil that stands, None where nothing does.
    """

    open_: Mask
    opened_share: float
    findings: tuple[ProofFinding, ...]
    finest_open_um: float | None
    finest_standing_um: float | None


def cloth_of(mesh: MeshGeometry, settings: Settings) -> Cloth:
    return Cloth(mesh.opening_um, mesh.thread_um, settings["coat.thin_share"] * mesh.fabric_thickness_um)


def proof(black: npt.NDArray[np.bool_], dpi: float, mesh: MeshGeometry, light: Exposure, settings: Settings) -> Proof:
    """Work out the stencil of a film.

    Args:
        black: (h, w), True where the film is black. dpi: pixels an inch.

    Raises:
        InvalidInput: a film without black.
    """
    if not black.any():
        raise InvalidInput("The film has no black: there is no image on it.", "film")
    cloth, px_mm = cloth_of(mesh, settings), dpi / _MM_PER_INCH
    stands = stencil(black, px_mm, light, cloth.opening_um)
    opened = float(np.count_nonzero(stands.open_[black]) / np.count_nonzero(black))
    held = light.finest_held_um()
    return Proof(
        stands.open_,
        opened,
        tuple(findings(black, stands, px_mm, light, cloth)),
        light.finest_open_um(),
        None if held is None else max(held, cloth.opening_um),
    )


def opened_share(black: npt.NDArray[np.bool_], px_mm: float, light: Exposure, opening_um: float) -> float:
    """Of the film's black what opens, without looking for what does not."""
    open_ = stencil(black, px_mm, light, opening_um).open_
    return float(open_[black].mean()) if black.any() else 0.0
