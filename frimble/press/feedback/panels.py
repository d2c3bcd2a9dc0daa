"""What the press said of formulas, on the card of their mesh."""

from django.template.loader import render_to_string

from frimble.press.feedback import queries
from frimble.screens.meshes.panels import on_mesh_card


@on_mesh_card
def prints(mesh):
    return render_to_string("press/feedback/mesh_prints.html", {"rows": queries.prints_on(mesh)})
