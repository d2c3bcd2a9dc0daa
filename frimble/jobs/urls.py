from django.urls import path

from frimble.jobs import live, views
from frimble.jobs.setup.views import setup

app_name = "jobs"

urlpatterns = [
    path("", views.show_today, name="today"),
    path("room/", setup, name="setup"),
    path("find/", views.slate, name="slate"),
    path("changes/", live.changes, name="changes"),
    path("alive/", views.alive, name="alive"),
    path("jobs/", views.jobs, name="jobs"),
    path("jobs/coated/", views.coated, name="coated"),
    path("jobs/<str:number>/", views.job, name="job"),
    path("photos/<int:pk>.png", views.photo, name="photo"),
]
