"""What the press said of formulas, on the card of their mesh."""

from django.template.loader import render_to_string

from frimble.people import settings as house_settings
from frimble.press.feedback import opacity, queries
from frimble.screens.meshes.panels import on_deposit, on_mesh_card


@on_mesh_card
def prints(mesh):
    covers = opacity.covers(mesh.geometry(house_settings.current()).ink_volume_cm3_per_m2)
    return render_to_string("press/feedback/mesh_prints.html", {"rows": queries.prints_on(mesh), "covers": covers})


on_deposit(opacity.covers)
