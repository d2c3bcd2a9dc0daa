"""A small shop for browser tests: two people, three like screens, one rack, nothing calibrated."""

from datetime import timedelta

from django.utils import timezone

from frimble.coatings.models import Batch, CoatRecipe, Emulsion
from frimble.demo.loader import password_of
from frimble.exposures.models import Lamp
from frimble.films.models import DensityReading, FilmProcess
from frimble.jobs.models import Job
from frimble.people.models import Person
from frimble.screens.models import MeshType, Rack, Slot
from frimble.screens.register.services import register_screen


def small_shop():
    """Make the shop and return its people by name."""
    people = {
        name: Person.objects.create_user(name, password=password_of(name), first_name=name.capitalize(), role=role)
        for name, role in (("odile", "lead"), ("tamsin", "technician"), ("bertrand", "technician"), ("ines", "press"))
    }
    mesh = MeshType.objects.create(count_per_cm=77, thread_um=48, colour="yellow")
    thermal = MeshType.objects.create(count_per_cm=77, thread_um=55, colour="white", thermal=True)
    for code in ("Q-014", "Q-015", "Q-016"):
        register_screen(code, "aluminium", 580, 790, mesh, "photo", people["odile"])
    register_screen("Q-063", "aluminium", 580, 790, thermal, "thermal", people["odile"])
    emulsion = Emulsion.objects.create(name="Saltern Dual", kind="dual", solids=0.4)
    mixed = timezone.now() - timedelta(days=6)
    Batch.objects.create(code="SD-08", emulsion=emulsion, mixed_at=mixed, mixed_by=people["odile"])
    CoatRecipe.objects.create(name="One and one", formula="P1 S1", use="everyday work")
    Lamp.objects.create(name="Lantern A", kind="led", distance_mm=400, start_lag_s=0.3)
    film = FilmProcess.objects.create(name="Inkjet dye")
    DensityReading.objects.create(
        process=film, band="uv", route="densitometer", dmax=3.4, dmin=0.06, at=mixed, by=people["odile"]
    )
    Job.objects.create(number="J-301", name="Lugger Week pennants")
    for code, dark in (("A", False), ("D", True)):
        rack = Rack.objects.create(code=code, name="Open rack" if code == "A" else "Dark cupboard", dark=dark)
        Slot.objects.bulk_create(
            Slot(rack=rack, code=f"{code}-{n:02d}", column=n, row=1, width_mm=680, height_mm=930) for n in (1, 2, 3)
        )
    return people
