from django.urls import path

from frimble.coatings import thicknessviews, views

app_name = "coatings"

urlpatterns = [
    path("batches/", views.batches, name="batches"),
    path("cabinet/", views.cabinet, name="cabinet"),
    path("<str:code>/", views.coat, name="coat"),
    path("<str:code>/thickness/", thicknessviews.measure, name="thickness"),
    path("<str:code>/thickness/gauge/", thicknessviews.gauge, name="gauge"),
    path("<str:code>/preview/", views.preview, name="preview"),
]
