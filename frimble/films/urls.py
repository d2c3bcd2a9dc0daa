from django.urls import path

from frimble.films.checks import views as checks_views
from frimble.films.library import views as library_views
from frimble.films.placement import views as placement_views
from frimble.films.processes import views as processes_views
from frimble.films.separations import views as separations_views

app_name = "films"

urlpatterns = [
    path("", library_views.films, name="films"),
    path("processes/", processes_views.processes, name="processes"),
    path("processes/new/", processes_views.edit_process, name="add-process"),
    path("processes/<int:pk>/", processes_views.process, name="process"),
    path("processes/<int:pk>/change/", processes_views.edit_process, name="edit-process"),
    path("processes/<int:pk>/densitometer/", processes_views.densitometer, name="densitometer"),
    path("films/new/", library_views.add_film, name="add-film"),
    path("films/<int:pk>/", library_views.film, name="film"),
    path("placement/", placement_views.placement, name="placement"),
    path("placement.pdf", placement_views.as_pdf, name="placement-pdf"),
    path("placement.svg", placement_views.as_svg, name="placement-svg"),
    path("separations/<str:job_number>/", separations_views.separations, name="separations"),
    path("sheets/<int:pk>/", checks_views.sheet, name="sheet"),
    path("sheets/<int:pk>/progress/", checks_views.progress, name="sheet-progress"),
    path("sheets/<int:pk>/picture.png", checks_views.picture, name="sheet-picture"),
    path("sheets/<int:pk>/densities.png", checks_views.densities, name="sheet-densities"),
    path("sheets/<int:pk>/loupe.png", checks_views.loupe, name="sheet-loupe"),
]
