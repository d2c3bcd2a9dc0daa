from django.urls import path

from frimble.films import placementviews, positiveviews, views

app_name = "films"

urlpatterns = [
    path("", positiveviews.positives, name="positives"),
    path("systems/", views.systems, name="systems"),
    path("<int:pk>/", views.system, name="system"),
    path("positives/new/", positiveviews.add_positive, name="add-positive"),
    path("positives/<int:pk>/", positiveviews.positive, name="positive"),
    path("placement/", placementviews.placement, name="placement"),
    path("placement.pdf", placementviews.as_pdf, name="placement-pdf"),
    path("placement.svg", placementviews.as_svg, name="placement-svg"),
    path("separations/<str:job_number>/", positiveviews.separations, name="separations"),
    path("sheets/<int:pk>/", positiveviews.sheet, name="sheet"),
    path("sheets/<int:pk>/progress/", positiveviews.progress, name="sheet-progress"),
    path("sheets/<int:pk>/picture.png", positiveviews.picture, name="sheet-picture"),
    path("sheets/<int:pk>/densities.png", positiveviews.densities, name="sheet-densities"),
    path("sheets/<int:pk>/loupe.png", positiveviews.loupe, name="sheet-loupe"),
    path("systems/new/", views.edit_system, name="add-system"),
    path("<int:pk>/change/", views.edit_system, name="edit-system"),
    path("<int:pk>/densitometer/", views.densitometer, name="densitometer"),
]
