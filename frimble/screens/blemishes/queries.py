"""The marks that are on a mesh now."""

from frimble.screens.models import Meshing


def standing(meshing: Meshing):
    """The blemishes that are on a mesh now."""
    return meshing.blemishes.filter(clears__isnull=True, cleared_by__isnull=True)
