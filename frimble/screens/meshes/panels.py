"""What later stations add to a mesh card: they register here, and are not imported."""

from collections.abc import Callable

from django.utils.safestring import SafeString

from frimble.screens.models import MeshKind

_PANELS: list[Callable[[MeshKind], SafeString]] = []


def on_mesh_card(panel: Callable[[MeshKind], SafeString]) -> Callable[[MeshKind], SafeString]:
    """Register a function that renders a section of the card."""
    _PANELS.append(panel)
    return panel


def mesh_panels(mesh: MeshKind) -> list[SafeString]:
    """Every registered section for this mesh."""
    return [panel(mesh) for panel in _PANELS]
