"""The marks that are on a mesh now."""

from frimble.screens.models import MeshInstallation


def standing(installation: MeshInstallation):
    """The blemishes that are on a mesh now."""
    return installation.blemishes.filter(clears__isnull=True, cleared_by__isnull=True)
