"""What later stations add to a mesh card: they register here, and are not imported."""

from collections.abc import Callable

from django.utils.safestring import SafeString

from frimble.screens.models import MeshType

# Each says in a sentence what a wet deposit, µm, comes to on press.
_DEPOSIT: list[Callable[[float], str]] = []
_PANELS: list[Callable[[MeshType], SafeString]] = []


def on_mesh_card(panel: Callable[[MeshType], SafeString]) -> Callable[[MeshType], SafeString]:
    """Register a function that renders a section of the card."""
    _PANELS.append(panel)
    return panel


def mesh_panels(mesh: MeshType) -> list[SafeString]:
    """Every registered section for this mesh."""
    return [panel(mesh) for panel in _PANELS]


def on_deposit(words: Callable[[float], str]) -> Callable[[float], str]:
    """Register a function that says in a sentence what a wet deposit, µm, comes to on press."""
    _DEPOSIT.append(words)
    return words


def deposit_words(deposit_um: float) -> list[str]:
    """What later stations say of a deposit."""
    return [words(deposit_um) for words in _DEPOSIT]
