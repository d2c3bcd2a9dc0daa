from django.urls import path

from frimble.films.checks import views as checks_views
from frimble.films.library import views as library_views
from frimble.films.placement import views as placement_views
from frimble.films.processes import views as processes_views
from frimble.films.separations import views as separations_views

app_name = "films"

urlpatterns = [
    path("", library_views.positives, name="positives"),
    path("systems/", processes_views.systems, name="systems"),
    path("<int:pk>/", processes_views.system, name="system"),
    path("positives/new/", library_views.add_positive, name="add-positive"),
    path("positives/<int:pk>/", library_views.positive, name="positive"),
    path("placement/", placement_views.placement, name="placement"),
    path("placement.pdf", placement_views.as_pdf, name="placement-pdf"),
    path("placement.svg", placement_views.as_svg, name="placement-svg"),
    path("separations/<str:job_number>/", separations_views.separations, name="separations"),
    path("sheets/<int:pk>/", checks_views.sheet, name="sheet"),
    path("sheets/<int:pk>/progress/", checks_views.progress, name="sheet-progress"),
    path("sheets/<int:pk>/picture.png", checks_views.picture, name="sheet-picture"),
    path("sheets/<int:pk>/densities.png", checks_views.densities, name="sheet-densities"),
    path("sheets/<int:pk>/loupe.png", checks_views.loupe, name="sheet-loupe"),
    path("systems/new/", processes_views.edit_system, name="add-system"),
    path("<int:pk>/change/", processes_views.edit_system, name="edit-system"),
    path("<int:pk>/densitometer/", processes_views.densitometer, name="densitometer"),
]
