"""What later stations add to a mesh card: they register here, and are not imported."""

from collections.abc import Callable

from django.utils.safestring import SafeString

from frimble.screens.models import MeshType

_PANELS: list[Callable[[MeshType], SafeString]] = []


def on_mesh_card(panel: Callable[[MeshType], SafeString]) -> Callable[[MeshType], SafeString]:
    """Register a function that renders a section of the card."""
    _PANELS.append(panel)
    return panel


def mesh_panels(mesh: MeshType) -> list[SafeString]:
    """Every registered section for this mesh."""
    return [panel(mesh) for panel in _PANELS]
