"""The exposure chart's part of a mesh card."""

from django.template.loader import render_to_string

from frimble.exposures.chart import queries as chart_queries
from frimble.screens.meshes.panels import on_mesh_card


@on_mesh_card
def chart_times(mesh):
    """The calibrated times in force on this mesh."""
    entries = chart_queries.entries_in_force(mesh=mesh)
    return render_to_string("exposures/chart/mesh_times.html", {"entries": entries, "mesh": mesh})
