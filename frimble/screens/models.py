"""Frames, meshes and the records of their lives. Frame, mesh and stencil are three lives.

Records are append-only. `Screen` is a stored projection of them, computed by `frimble.core.lifecycle`."""

from frimble.screens.blemishes.models import Blemish, photo_name
from frimble.screens.late.models import LateRecord
from frimble.screens.meshes.models import MeshType
from frimble.screens.racks.models import Rack, Slot
from frimble.screens.reclaim.models import ReclaimProduct
from frimble.screens.register.models import (
    Cycle,
    Frame,
    MeshInstallation,
    Screen,
    ScreenEvent,
    ScreenEventQuerySet,
    ScreenQuerySet,
    open_among,
)
from frimble.screens.search.models import SavedSearch
from frimble.screens.tension.models import TensionMeasurement, TensionValue

__all__ = [
    "Blemish",
    "Cycle",
    "Frame",
    "LateRecord",
    "MeshInstallation",
    "MeshType",
    "Rack",
    "ReclaimProduct",
    "SavedSearch",
    "Screen",
    "ScreenEvent",
    "ScreenEventQuerySet",
    "ScreenQuerySet",
    "Slot",
    "TensionMeasurement",
    "TensionValue",
    "open_among",
    "photo_name",
]
