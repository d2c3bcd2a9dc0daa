"""Frames, meshes and the records of their lives. Frame, mesh and stencil are three lives.

Records are append-only. `Screen` is a stored projection of them, computed by `frimble.core.lifecycle`."""

from frimble.screens.blemishes.models import Blemish, photo_name
from frimble.screens.meshes.models import MeshKind
from frimble.screens.racks.models import Rack, Slot
from frimble.screens.reclaim.models import ReclaimProduct
from frimble.screens.register.models import Cycle, Frame, LifeEvent, LifeEventQuerySet, Meshing, Screen, ScreenQuerySet
from frimble.screens.search.models import SavedLook
from frimble.screens.tension.models import TensionMeasuring, TensionValue

__all__ = [
    "Blemish",
    "Cycle",
    "Frame",
    "LifeEvent",
    "LifeEventQuerySet",
    "MeshKind",
    "Meshing",
    "Rack",
    "ReclaimProduct",
    "SavedLook",
    "Screen",
    "ScreenQuerySet",
    "Slot",
    "TensionMeasuring",
    "TensionValue",
    "photo_name",
]
