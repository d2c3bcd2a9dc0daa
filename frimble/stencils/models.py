"""How stencils were washed out, and what was found to have gone wrong with them."""

from frimble.stencils.diagnosis.models import ConfirmedCause
from frimble.stencils.inspecting.photo.models import FindingDecision, StencilPhoto, TappedFault
from frimble.stencils.proofs.models import StencilProof
from frimble.stencils.washing.models import Washout

__all__ = ["ConfirmedCause", "FindingDecision", "StencilPhoto", "StencilProof", "TappedFault", "Washout"]
