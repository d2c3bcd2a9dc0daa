"""What a room has of the things that a first calibrated time rests on."""

from dataclasses import dataclass

from frimble.coatings.models import Batch, Coater, Emulsion
from frimble.exposures.models import ChartEntry, Lamp
from frimble.films.models import FilmProcess
from frimble.screens.models import MeshType, Rack, Screen


@dataclass(frozen=True)
class RoomThings:
    """How many of each the room has."""

    lamps: int
    coaters: int
    emulsions: int
    batches: int
    processes: int
    meshes: int
    racks: int
    screens: int


def room_things() -> RoomThings:
    return RoomThings(
        lamps=Lamp.objects.count(),
        coaters=Coater.objects.count(),
        emulsions=Emulsion.objects.count(),
        batches=Batch.objects.in_use().count(),
        processes=FilmProcess.objects.count(),
        meshes=MeshType.objects.count(),
        racks=Rack.objects.count(),
        screens=Screen.objects.count(),
    )


def is_calibrated() -> bool:
    """Whether a first time was accepted: the room is set up then."""
    return ChartEntry.objects.exists()
